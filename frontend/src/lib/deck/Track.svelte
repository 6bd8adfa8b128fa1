<script lang="ts">
  import { worded } from '../system.svelte';
  import { useWork } from '../state/work.svelte';
  import { theme } from '../theme.svelte';
  import type { TrackKind } from './kind';
  import type { Painter } from './painter';

  interface Props {
    kind: TrackKind;
    painter: Painter;
    /** Where it begins and how high it is, in the deck. [px] */
    top: number;
    height?: number;
    /** Put another track before this one. */
    ondropped: (id: string) => void;
  }
  let { kind, painter, top, height = $bindable(), ondropped }: Props = $props();
  const w = useWork();
  const step = $derived(w.selection.step);
  // Buttons need more room than words.
  const HEAD = $derived(kind.tools ? 26 : 22);
  let over = $state(false);
  const given = $derived(w.layout.height(step, kind.id) ?? kind.height);
  const title = $derived(kind.title?.(w) ?? worded(kind.name));
  const readout = $derived(kind.readout?.(w) ?? '');
  const Over = $derived(kind.component);
  const Tools = $derived(kind.tools);

  // Whatever the drawing reads makes it draw again; where the track stands, too.
  $effect(() => {
    const draw = kind.draw;
    if (!draw || !height) return;
    void [
      w.selection.axes.domain,
      w.selection.axes.ratio,
      w.selection.axes.width,
      w.layout.order(step),
      w.tracks,
      document.fonts.status,
    ];
    // What the drawing will read, a frame before it does; the ground's own tracks stay as they are in a drag.
    void [w.still, theme.name];
    if (!kind.groundOnly)
      void [
        w.marked,
        w.figures.after,
        w.over.shown,
        w.over.found,
        w.refused.ghost,
        w.past.figures,
        w.project,
        w.selection.slot,
        w.trying,
        w.written.all,
      ];
    painter.put(kind.id, { top: top + HEAD, height: height - HEAD - 1, draw: (v) => draw(v, w) });
  });
  $effect(() => () => painter.drop(kind.id));

  function resize(e: PointerEvent): void {
    const grip = e.currentTarget as HTMLElement;
    const [from, was] = [e.clientY, height ?? 0];
    const move = (m: PointerEvent) => w.layout.resize(step, kind.id, was + m.clientY - from);
    const end = () => {
      grip.removeEventListener('pointermove', move);
      grip.removeEventListener('pointerup', end);
    };
    grip.setPointerCapture(e.pointerId);
    grip.addEventListener('pointermove', move);
    grip.addEventListener('pointerup', end);
    e.stopPropagation();
  }
</script>

<section
  class="track"
  class:grow={given === undefined}
  class:over
  style:height={given === undefined ? null : `${given}px`}
  aria-label={title}
  data-track={kind.id}
  bind:offsetHeight={height}
  ondragover={(e) => {
    if (!e.dataTransfer?.types.includes('text/delgrun-track')) return;
    e.preventDefault();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    over = false;
    const id = e.dataTransfer?.getData('text/delgrun-track');
    if (id) ondropped(id);
  }}
  role="group"
>
  <header style:height={`${HEAD}px`}>
    <span
      class="title"
      draggable="true"
      role="presentation"
      title="Drag to another place; the list of tracks hides and shows them"
      ondragstart={(e) => e.dataTransfer?.setData('text/delgrun-track', kind.id)}>{title}</span
    >
    {#if Tools}<Tools />{/if}
    {#if readout}<output class="num">{readout}</output>{/if}
  </header>
  {#if Over}<div class="content" style:top={`${HEAD}px`}><Over /></div>{/if}
  {#if given !== undefined}
    <div class="grip" role="presentation" title="Drag to make it higher or lower" onpointerdown={resize}></div>
  {/if}
</section>

<style>
  .track {
    contain: layout paint;
    position: relative;
    z-index: 1;
    border-bottom: 1px solid var(--color-base-300);
    overflow: hidden;
    /* Where there is no room for all, each gives some. */
    flex: 0 1 auto;
    min-height: 40px;
  }
  .grow {
    flex: 1 1 0;
    min-height: 140px;
  }
  .over {
    box-shadow: inset 0 3px 0 var(--color-primary);
  }
  header {
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 0 16px 0 8px;
    font-size: 12px;
    line-height: 16px;
    background: var(--color-base-200);
  }
  .title {
    font-weight: 700;
    cursor: grab;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    min-width: min(14ch, 40%);
  }
  output {
    margin-left: auto;
    white-space: nowrap;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    /* Where there is no room for both, the title stays longer. */
    flex-shrink: 4;
  }
  .content {
    position: absolute;
    inset: 0;
  }
  .grip {
    position: absolute;
    inset: auto 0 0;
    height: 5px;
    cursor: ns-resize;
    touch-action: none;
  }
  .grip:hover {
    background: var(--color-base-300);
  }
</style>
