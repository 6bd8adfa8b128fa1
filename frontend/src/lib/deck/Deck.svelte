<script lang="ts">
  import { worded } from '../system.svelte';
  import { useWork } from '../state/work.svelte';
  import { GUTTER, MARGIN } from '../state/axes.svelte';
  import Axis from './Axis.svelte';
  import { Painter } from './painter';
  import Track from './Track.svelte';
  import { TRACKS } from './tracks';

  const w = useWork();
  const { axes } = w.selection;
  const shown = $derived(w.tracks.map((t) => TRACKS[t.id]!));
  const AXIS_PX = 26;
  let canvas = $state<HTMLCanvasElement>();
  let height = $state(0);
  let heights = $state<Record<string, number>>({});
  /** Where each track begins, from the top of the deck. [px] */
  const tops = $derived.by(() => {
    let at = 0;
    const out: Record<string, number> = {};
    for (const { id } of shown) {
      out[id] = at;
      at += heights[id] ?? 0;
    }
    return out;
  });
  /** Where the plumb line runs: over all tracks but those of numbers. [px] */
  const plumbs = $derived.by(() => {
    const out: { from: number; to: number }[] = [];
    let from = 0;
    for (const { id, numbers } of shown) {
      if (!numbers) continue;
      if (tops[id]! > from) out.push({ from, to: tops[id]! });
      from = tops[id]! + (heights[id] ?? 0);
    }
    const bottom = height - AXIS_PX;
    if (bottom > from) out.push({ from, to: bottom });
    return out;
  });
  let holding: { x: number; moved: boolean } | null = null;

  const painter = new Painter(
    () => canvas,
    () => ({ w: axes.width, h: height }),
    () => ({ left: GUTTER, right: axes.width - MARGIN, x: axes.x, domain: axes.domain }),
  );
  $effect(() => () => painter.close());
  // In a drag the tracks are drawn as soon as the figures are there (those inside have said what changed), and not
  // a frame later: the next frame then only has to show them.
  $effect(() => {
    if (w.shownFigures && w.trial.draft) painter.paint();
  });

  function at(e: PointerEvent | WheelEvent): number {
    const frame = (e.currentTarget as Element).getBoundingClientRect();
    return axes.toChainage(e.clientX - frame.left);
  }
  const elsewhere = (e: Event) =>
    (e.target as Element).closest('button, input, select, label, .handle, .content table, header, .grip');

  function move(e: PointerEvent): void {
    if (holding) {
      const metres = (holding.x - e.clientX) / axes.scale;
      if (Math.abs(holding.x - e.clientX) > 3 || holding.moved) {
        axes.pan(metres);
        holding = { x: e.clientX, moved: true };
      }
      return;
    }
    if (!w.selection.pinned && !w.trial.draft && e.buttons === 0 && !elsewhere(e)) w.selection.setPlumb(at(e));
  }

  function down(e: PointerEvent): void {
    if (e.button !== 0 || elsewhere(e)) return;
    holding = { x: e.clientX, moved: false };
  }

  function up(e: PointerEvent): void {
    if (holding && !holding.moved) {
      // A click pins the plumb line where it is, or lets it go.
      w.selection.pinned = !w.selection.pinned;
      w.selection.setPlumb(at(e));
      if (w.selection.ip !== null) w.select(null);
    }
    holding = null;
  }

  function wheel(e: WheelEvent): void {
    if ((e.target as Element).closest('.content table')) return;
    e.preventDefault();
    if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) {
      axes.pan((e.deltaX || e.deltaY) / axes.scale);
    } else axes.zoom(Math.exp(-e.deltaY / 500), at(e));
  }
</script>

<div
  class="deck"
  class:behind={!w.stillFresh}
  role="application"
  aria-label={worded('Tracks along the chainage')}
  bind:clientWidth={axes.width}
  bind:clientHeight={height}
  onpointermove={move}
  onpointerdown={down}
  onpointerup={up}
  onwheel={wheel}
>
  <canvas bind:this={canvas}></canvas>
  <!-- One line through all tracks; moving it draws none of them again. -->
  {#each plumbs as { from, to } (from)}
    <div
      class="plumb"
      class:pinned={w.selection.pinned}
      style:top={`${from}px`}
      style:height={`${to - from}px`}
      style:translate={`${Math.round(axes.x(w.selection.plumb))}px 0`}
    ></div>
  {/each}
  {#each shown as kind (kind.id)}
    <Track
      {kind}
      {painter}
      top={tops[kind.id] ?? 0}
      bind:height={heights[kind.id]}
      ondropped={(id) => w.layout.place(w.selection.step, id, kind.id)}
    />
  {/each}
  <Axis />
</div>

<style>
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
  .plumb {
    position: absolute;
    z-index: 0;
    left: 0;
    border-left: 1px dashed var(--ink-plumb);
    pointer-events: none;
  }
  .pinned {
    border-left-style: solid;
  }
  .deck {
    position: relative;
    display: flex;
    flex-direction: column;
    flex: 1 1 0;
    min-height: 0;
    overflow: hidden;
    background: var(--color-base-100);
    user-select: none;
    touch-action: none;
  }
  /* Figures of other ground than what is saved: on their way. */
  .behind canvas {
    opacity: 0.45;
    transition: opacity 0s 150ms;
  }
</style>
