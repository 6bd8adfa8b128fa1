<script lang="ts">
  import type { Attachment } from 'svelte/attachments';
  import { chainage } from '../format';
  import { changeRanges, lanes, LEAST_M, rangesOf } from '../state/ranges';
  import { useWork } from '../state/work.svelte';
  import { drag, type DragHandlers } from './drag';
  import { rangeInWords } from './tracks/ranges';

  // The ranges as bars along the chainage: dragged whole or by an end, clicked to be typed.
  const w = useWork();
  const { axes } = w.selection;
  const all = $derived(rangesOf(w));
  /** The bar in hand: where it is while it is dragged. */
  let held = $state<{ at: number; from_m: number; to_m: number } | null>(null);
  const placed = $derived(
    all.map(({ range, at }) => ({
      range,
      at,
      ...(held?.at === at ? held : { from_m: range.from_m, to_m: range.to_m }),
    })),
  );
  const lane = $derived(lanes(all.map(({ range }) => range)));
  let height = $state(26);
  /** All lanes have room: they are the lower the more there are. */
  const high = $derived(Math.min((height - 5) / (Math.max(...lane, 0) + 1), 20));
  const round = (s: number) => Math.round(s * 1000) / 1000;

  /** What a part of a bar does; which range it is stands on the bar, so that a bar that moves stays in hand. */
  function taken(part: 'from' | 'to' | 'whole'): Attachment {
    let grip = NaN;
    return (node) => {
      const place = () => Number(node.closest<HTMLElement>('[data-range]')!.dataset.range);
      const own = () => all.find((r) => r.at === place())!.range;
      return drag(node, (): DragHandlers => ({
        onstart: () => {
          w.selection.range = place();
          grip = NaN;
        },
        onmove: ({ x }) => {
          const [s, at, { from_m, to_m }] = [axes.toChainage(x), place(), own()];
          if (Number.isNaN(grip)) grip = s - from_m;
          if (part === 'from') held = { at, to_m, from_m: round(Math.min(s, to_m - LEAST_M)) };
          else if (part === 'to') held = { at, from_m, to_m: round(Math.max(s, from_m + LEAST_M)) };
          else held = { at, from_m: round(s - grip), to_m: round(s - grip + to_m - from_m) };
        },
        onend: () => {
          const now = held;
          held = null;
          if (!now) return;
          const { at, from_m, to_m } = now;
          w.act(changeRanges(w, 'the range', (rows) => rows.map((r, i) => (i === at ? { ...r, from_m, to_m } : r))));
        },
        oncancel: () => (held = null),
      }));
    };
  }
  const [whole, from, to] = [taken('whole'), taken('from'), taken('to')];
</script>

<div class="fill drag-frame" bind:clientHeight={height} role="group" aria-label="Ranges of the limits">
  {#each placed as { range, at, from_m, to_m }, i (at)}
    {@const [x1, x2] = [axes.x(from_m), axes.x(to_m)]}
    <div
      class="bar"
      class:current={w.selection.range === at}
      style:left={`${x1}px`}
      style:width={`${Math.max(x2 - x1, 6)}px`}
      style:top={`${3 + high * lane[i]!}px`}
      style:height={`${high - 2}px`}
      style:line-height={`${high - 4}px`}
      title={`${chainage(from_m, 0)} to ${chainage(to_m, 0)}: ${rangeInWords(range)}`}
      data-range={at}
      {@attach whole}
    >
      <span class="end" {@attach from}></span>
      <span class="words">{range.words || rangeInWords(range)}</span>
      <span class="end last" {@attach to}></span>
    </div>
  {/each}
</div>

<style>
  .fill {
    position: absolute;
    inset: 0;
    clip-path: inset(0 16px 0 62px);
  }
  .bar {
    position: absolute;
    border: 1px solid var(--ink-other);
    border-radius: 3px;
    background: color-mix(in srgb, var(--ink-other) 18%, var(--color-base-100));
    font-size: 12px;
    cursor: grab;
    touch-action: none;
    white-space: nowrap;
    overflow: hidden;
  }
  .current {
    border-width: 2px;
    border-color: var(--ink-line);
  }
  .words {
    padding: 0 8px;
    pointer-events: none;
  }
  .end {
    position: absolute;
    inset: 0 auto 0 0;
    width: 7px;
    cursor: ew-resize;
    touch-action: none;
  }
  .last {
    inset: 0 0 0 auto;
  }
</style>
