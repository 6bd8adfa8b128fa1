<script lang="ts">
  import { worded } from '../system.svelte';
  import { told } from '../units';
  import type { Attachment } from 'svelte/attachments';
  import { addControl, bandsOf, changeControls, controlsOf, freshControl, millimetres } from '../state/controls';
  import { useWork } from '../state/work.svelte';
  import { drag, type DragHandlers } from './drag';
  import { levelScale } from './long';

  // Handles of the level controls in the long section: up and down, along, and by their ends; and the next one drawn.
  const w = useWork();
  const { axes } = w.selection;
  const scale = $derived(levelScale(w.long));
  const bands = $derived(bandsOf(w.marked).filter(({ of }) => of.kind === 'control'));
  type Part = 'from' | 'to' | 'whole';
  let held = $state.raw<{ at: number; from_m: number; to_m: number; up: number } | null>(null);

  const marks = $derived(
    controlsOf(w).flatMap(({ control, at }) => {
      const band = bands.find(({ of }) => of.row === at);
      const k = band ? band.s.length >> 1 : 0;
      const level = band ? (Number.isNaN(band.low[k]!) ? band.high[k]! : band.low[k]!) : NaN;
      if (Number.isNaN(level)) return [];
      const now = held?.at === at ? held : { from_m: control.from_m, to_m: control.to_m, up: 0 };
      return [{ control, at, ...now, y: scale.y(level + now.up) }];
    }),
  );

  function taken(part: Part): Attachment {
    let grip = { s: NaN, z: NaN };
    return (node) => {
      const place = () => Number(node.closest<HTMLElement>('[data-control]')!.dataset.control);
      return drag(node, (): DragHandlers => ({
        onstart: () => {
          w.selection.control = place();
          grip = { s: NaN, z: NaN };
        },
        onmove: ({ x, y }) => {
          const at = place();
          const { from_m, to_m } = controlsOf(w).find((c) => c.at === at)!.control;
          const [s, z] = [axes.toChainage(x), scale.toLevel(y)];
          if (Number.isNaN(grip.s)) grip = { s, z };
          const along = millimetres(s - grip.s);
          if (part === 'whole')
            held = {
              at,
              from_m: millimetres(from_m + along),
              to_m: millimetres(to_m + along),
              up: millimetres(z - grip.z),
            };
          else if (part === 'from') held = { at, from_m: millimetres(Math.min(s, to_m)), to_m, up: 0 };
          else held = { at, from_m, to_m: millimetres(Math.max(s, from_m)), up: 0 };
        },
        onend: () => {
          const now = held;
          held = null;
          if (!now) return;
          const moved = (z: number | null) => (z === null ? null : millimetres(z + now.up));
          w.act(
            changeControls(w, 'the level control', (rows) =>
              rows.map((c, i) =>
                i !== now.at
                  ? c
                  : c.measured_from === 'level'
                    ? {
                        ...c,
                        from_m: now.from_m,
                        to_m: now.to_m,
                        level_m: moved(c.level_m),
                        level_to_m: moved(c.level_to_m),
                      }
                    : {
                        ...c,
                        from_m: now.from_m,
                        to_m: now.to_m,
                        height_m: moved(c.height_m),
                        height_to_m: moved(c.height_to_m),
                      },
              ),
            ),
          );
        },
        oncancel: () => (held = null),
      }));
    };
  }
  const [whole, from, to] = [taken('whole'), taken('from'), taken('to')];

  /** The stretch being drawn, from where the pointer went down. */
  let drawn = $state.raw<{ a: number; b: number; z: number } | null>(null);
  const pad: Attachment = (node) => {
    let began: { s: number; z: number } | null = null;
    const at = (e: PointerEvent) => {
      const frame = node.getBoundingClientRect();
      return { s: axes.toChainage(e.clientX - frame.left), z: scale.toLevel(e.clientY - frame.top) };
    };
    const down = (e: Event) => {
      if (!(e instanceof PointerEvent) || e.button !== 0) return;
      began = at(e);
      node.setPointerCapture(e.pointerId);
      drawn = { a: began.s, b: began.s, z: began.z };
    };
    const move = (e: Event) => {
      if (began && e instanceof PointerEvent) drawn = { a: began.s, b: at(e).s, z: began.z };
    };
    const up = () => {
      const now = drawn;
      began = drawn = null;
      if (!now) return;
      w.selection.drawsControl = false;
      // What is shorter than a few pixels is a point.
      const point = Math.abs(now.b - now.a) * axes.scale < 4;
      const [a, b] = point ? [now.a, now.a] : [Math.min(now.a, now.b), Math.max(now.a, now.b)];
      w.act(addControl(w, freshControl(w.road?.slot ?? 'centreline', a, b, now.z)));
    };
    const listened = { pointerdown: down, pointermove: move, pointerup: up } as const;
    for (const [name, f] of Object.entries(listened)) node.addEventListener(name, f);
    return () => {
      for (const [name, f] of Object.entries(listened)) node.removeEventListener(name, f);
    };
  };
</script>

{#each marks as m (m.at)}
  {@const middle = axes.x((m.from_m + m.to_m) / 2)}
  <!-- Over ground or an old road it is taken in its middle; its ends are typed. -->
  {@const [x1, x2] =
    m.control.measured_from === 'level' ? [axes.x(m.from_m), axes.x(m.to_m)] : [middle - 14, middle + 14]}
  <div
    class="mark"
    class:current={w.selection.control === m.at}
    class:held={held?.at === m.at}
    style:left={`${Math.min(x1, x2 - 12)}px`}
    style:width={`${Math.max(x2 - x1, 12)}px`}
    style:top={`${m.y - 7}px`}
    data-control={m.at}
    role="presentation"
    title={worded(`${m.control.words || 'Level control'}: drag it up, down or along`)}
    {@attach whole}
  >
    {#if m.control.measured_from === 'level'}
      <span class="end" {@attach from}></span><span class="end last" {@attach to}></span>
    {/if}
    {#if held?.at === m.at && held.up}<b class="num">{held.up > 0 ? '+' : '−'}{told('length', Math.abs(held.up))}</b
      >{/if}
  </div>
{/each}
{#if w.selection.drawsControl}
  <div class="pad" role="presentation" {@attach pad}>
    {#if drawn}
      {@const [x1, x2] = [axes.x(Math.min(drawn.a, drawn.b)), axes.x(Math.max(drawn.a, drawn.b))]}
      <div class="new num" style:left={`${x1}px`} style:width={`${x2 - x1}px`} style:top={`${scale.y(drawn.z)}px`}>
        <span>{told('level', drawn.z, 2)}</span>
      </div>
    {/if}
  </div>
{/if}

<style>
  .mark {
    position: absolute;
    height: 14px;
    cursor: move;
    touch-action: none;
    border-radius: 3px;
  }
  .mark:hover,
  .current {
    background: color-mix(in srgb, var(--ink-plumb) 14%, transparent);
  }
  .held {
    border-top: 2px dashed var(--ink-plumb);
  }
  .end {
    position: absolute;
    inset: 0 auto 0 0;
    width: 6px;
    cursor: ew-resize;
  }
  .last {
    inset: 0 0 0 auto;
  }
  b {
    position: absolute;
    left: 50%;
    top: -16px;
    font-size: 12px;
    color: var(--ink-plumb);
    white-space: nowrap;
  }
  .pad {
    position: absolute;
    inset: 0;
    cursor: crosshair;
    touch-action: none;
  }
  .new {
    position: absolute;
    border-top: 2px solid var(--ink-plumb);
    min-width: 2px;
  }
  .new span {
    position: absolute;
    top: -20px;
    left: 0;
    padding: 0 4px;
    font-size: 12px;
    background: var(--ink-paper);
    color: var(--ink-plumb);
    white-space: nowrap;
  }
</style>
