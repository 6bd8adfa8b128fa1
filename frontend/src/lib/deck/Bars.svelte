<script lang="ts">
  import type { Attachment } from 'svelte/attachments';
  import { chainage } from '../format';
  import { LEAST_M, lanes } from '../state/ranges';
  import { useWork } from '../state/work.svelte';
  import { drag, type DragHandlers } from './drag';

  // Stretches as bars along the chainage: dragged whole or by an end, clicked to be typed.
  export interface Bar {
    key: string;
    from_m: number;
    to_m: number;
    /** How far it goes in and out before and behind. [m] */
    taper_in_m?: number;
    taper_out_m?: number;
    words: string;
    /** What its title says beside its chainages. */
    says: string;
    /** Drawn as what differs, and not as what is built. */
    light?: boolean;
  }
  interface Props {
    label: string;
    bars: Bar[];
    current: string | null;
    onpick: (key: string) => void;
    /** It was moved, or one of its ends. */
    onmoved: (key: string, to: { from_m: number; to_m: number }) => void;
  }
  let { label, bars, current, onpick, onmoved }: Props = $props();
  const w = useWork();
  const { axes } = w.selection;
  /** The bar in hand: where it is while it is dragged. */
  let held = $state<{ key: string; from_m: number; to_m: number } | null>(null);
  const placed = $derived(bars.map((b) => (held?.key === b.key ? { ...b, ...held } : b)));
  const lane = $derived(
    lanes(bars.map((b) => ({ from_m: b.from_m - (b.taper_in_m ?? 0), to_m: b.to_m + (b.taper_out_m ?? 0) }))),
  );
  let height = $state(26);
  /** All lanes have room: they are the lower the more there are. */
  const high = $derived(Math.min((height - 5) / (Math.max(...lane, 0) + 1), 20));
  const round = (s: number) => Math.round(s * 1000) / 1000;

  /** What a part of a bar does; which one it is stands on the bar, so that a bar that moves stays in hand. */
  function taken(part: 'from' | 'to' | 'whole'): Attachment {
    let grip = NaN;
    return (node) => {
      const key = () => node.closest<HTMLElement>('[data-bar]')!.dataset.bar!;
      const own = () => bars.find((b) => b.key === key())!;
      return drag(node, (): DragHandlers => ({
        onstart: () => {
          onpick(key());
          grip = NaN;
        },
        onmove: ({ x }) => {
          const [s, { from_m, to_m }] = [axes.toChainage(x), own()];
          if (Number.isNaN(grip)) grip = s - from_m;
          if (part === 'from') held = { key: key(), to_m, from_m: round(Math.min(s, to_m - LEAST_M)) };
          else if (part === 'to') held = { key: key(), from_m, to_m: round(Math.max(s, from_m + LEAST_M)) };
          else held = { key: key(), from_m: round(s - grip), to_m: round(s - grip + to_m - from_m) };
        },
        onend: () => {
          const now = held;
          held = null;
          if (now) onmoved(now.key, { from_m: now.from_m, to_m: now.to_m });
        },
        oncancel: () => (held = null),
      }));
    };
  }
  const [whole, from, to] = [taken('whole'), taken('from'), taken('to')];
  const wide = (a: number, b: number) => Math.max(axes.x(b) - axes.x(a), 0);
</script>

<div class="fill drag-frame" bind:clientHeight={height} role="group" aria-label={label}>
  {#each placed as b, i (b.key)}
    {@const x = axes.x(b.from_m)}
    {@const top = `${3 + high * lane[i]!}px`}
    {#each [[b.from_m - (b.taper_in_m ?? 0), b.from_m, 'in'], [b.to_m, b.to_m + (b.taper_out_m ?? 0), 'out']] as [a, e, way] (way)}
      {#if (e as number) > (a as number)}
        <div
          class={`taper ${way}`}
          style:left={`${axes.x(a as number)}px`}
          style:width={`${wide(a as number, e as number)}px`}
          style:top
          style:height={`${high - 2}px`}
        ></div>
      {/if}
    {/each}
    <div
      class="bar"
      class:current={current === b.key}
      class:light={b.light}
      style:left={`${x}px`}
      style:width={`${Math.max(wide(b.from_m, b.to_m), 6)}px`}
      style:top
      style:height={`${high - 2}px`}
      style:line-height={`${high - 4}px`}
      title={`${chainage(b.from_m, 0)} to ${chainage(b.to_m, 0)}: ${b.says}`}
      data-bar={b.key}
      {@attach whole}
    >
      <span class="end" {@attach from}></span>
      <span class="words">{b.words}</span>
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
  .light {
    border-style: dashed;
    background: var(--color-base-100);
  }
  .current {
    border-width: 2px;
    border-color: var(--ink-line);
  }
  .taper {
    position: absolute;
    background: color-mix(in srgb, var(--ink-other) 34%, var(--color-base-100));
    pointer-events: none;
  }
  .in {
    clip-path: polygon(0 100%, 100% 0, 100% 100%);
  }
  .out {
    clip-path: polygon(0 0, 100% 100%, 0 100%);
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
