<script lang="ts">
  import type { Attachment } from 'svelte/attachments';
  import type { Figures, Ip } from '../../api/client';
  import { chainage, fixed, grade, signed } from '../format';
  import type { Workspace } from '../state/workspace.svelte';
  import { drag, type DragHandlers } from './drag';
  import { drawLong } from './draw';
  import { exaggeration, levelRange } from './levels';
  import { valueAt } from './trace';
  import Track from './Track.svelte';

  let { w, ontoggle }: { w: Workspace; ontoggle?: () => void } = $props();
  let box = $state({ w: 800, h: 280 });
  const TOP = 26;

  const others = $derived(
    Object.entries(w.shown)
      .filter(([slot]) => slot !== w.slot)
      .map(([slot, figures]) => {
        const line = w.project?.lines.find((l) => l.slot === slot);
        return { figures, colour: line?.colour ?? 0, name: line?.name ?? '' };
      }),
  );
  const found = $derived(w.step === 'search' ? w.found : null);
  // While an IP is held the scale stays as it was, or the ground would slip away under the hand.
  let resting = $state.raw<Figures[]>([]);
  $effect(() => {
    if (!w.draft) resting = [w.figures, ...others.map((o) => o.figures), found].filter((f) => f !== null);
  });
  const view = $derived.by(() => {
    if (!w.terrain) return { ratio: 1, levels: [0, 10] as [number, number] };
    const range = levelRange(w.terrain, resting, w.axes.domain);
    return exaggeration(range, Math.max(box.h - TOP - 8, 40), w.axes.scale);
  });
  const y = $derived.by(() => {
    const [lo, hi] = view.levels;
    const top = TOP;
    const bottom = box.h - 8;
    return (z: number) => bottom - ((z - lo) / (hi - lo)) * (bottom - top);
  });
  const toLevel = (py: number) => {
    const [lo, hi] = view.levels;
    return lo + ((box.h - 8 - py) / (box.h - 8 - TOP)) * (hi - lo);
  };

  const readout = $derived.by(() => {
    const t = w.terrain;
    const f = w.figures;
    if (!t) return '';
    const ground = valueAt(t.arrays.ground_chainage!, t.arrays.ground_level!, w.plumb);
    const level = f ? valueAt(f.arrays.line_chainage!, f.arrays.line_level!, w.plumb) : NaN;
    const parts = [Number.isNaN(ground) ? 'no ground' : `ground ${fixed(ground, 2)} m`];
    if (!Number.isNaN(level)) {
      parts.push(`line ${fixed(level, 2)} m`);
      if (!Number.isNaN(ground)) parts.push(`${signed(level - ground, 2)} m above ground`);
      const g = f?.section?.grade;
      if (typeof g === 'number' && f?.section?.chainage_m === w.plumb) parts.push(grade(g));
    }
    return parts.join(', ');
  });

  function handle(i: number, ip: () => Ip | undefined): Attachment {
    return (node) =>
      drag(node, (): DragHandlers => ({
        onstart: () => {
          if (w.selected !== i) w.select(i);
        },
        onmove: ({ x, y: py }) =>
          w.try({
            what: 'move',
            ip: i,
            chainage_m: i === 0 || i === w.ips.length - 1 ? ip()!.chainage_m : w.axes.toChainage(x),
            level_m: toLevel(py),
            slide: true,
          }),
        onend: () => void w.keep(),
        oncancel: () => w.cancel(),
      }));
  }

  function stretch(i: number): Attachment {
    return (node) =>
      drag(node, (): DragHandlers => ({
        onmove: ({ x }) => {
          const ip = w.ips[i]!;
          const length = Math.min(2 * Math.abs(w.axes.toChainage(x) - ip.chainage_m), ip.room_m);
          w.try({ what: 'length', ip: i, curve_length_m: Math.floor(length * 1000) / 1000 });
        },
        onend: () => void w.keep(),
        oncancel: () => w.cancel(),
      }));
  }

  function doubleClick(e: MouseEvent): void {
    const frame = (e.currentTarget as Element).getBoundingClientRect();
    const at = w.axes.toChainage(e.clientX - frame.left);
    void w.apply({ what: 'add', chainage_m: at, level_m: toLevel(e.clientY - frame.top) });
  }

  const failing = $derived(new Set(w.findings.map((u) => u.ip)));
  const tangents = $derived(
    w.ips.slice(0, -1).map((a, i) => {
      const b = w.ips[i + 1]!;
      const x1 = w.axes.x(a.chainage_m);
      const x2 = w.axes.x(b.chainage_m);
      const [y1, y2] = [y(a.level_m), y(b.level_m)];
      // Clear of a steep line: the text is about 50 px wide. Below a rise, above a fall.
      const clear = 11 + 27 * Math.abs((y2 - y1) / Math.max(x2 - x1, 1));
      const falls = (a.grade_out ?? 0) < 0;
      return {
        x: (x1 + x2) / 2,
        y: (y1 + y2) / 2 + (falls ? -clear + 4 : clear + 4),
        room: x2 - x1,
        grade: a.grade_out ?? 0,
      };
    }),
  );
</script>

<Track
  {w}
  name="long"
  title={`Long section, heights ×${fixed(view.ratio, view.ratio % 1 ? 1 : 0)}`}
  {readout}
  {ontoggle}
  watch={[w.terrain, w.figures, others, found, view, w.line?.colour]}
  draw={(v) => {
    if (v.w !== box.w || v.h !== box.h) box = { w: v.w, h: v.h };
    if (w.terrain)
      drawLong(v, {
        terrain: w.terrain,
        figures: w.figures,
        others,
        found,
        colour: w.line?.colour ?? 0,
        y,
        levels: view.levels,
      });
  }}
>
  {#snippet over()}
    <svg width={box.w} height={box.h} ondblclick={doubleClick} aria-label="IPs of the grade line" role="group">
      {#each tangents as t, i (i)}
        {#if t.room > 74}
          <text class="grade" x={t.x} y={t.y} text-anchor="middle">{grade(t.grade)}</text>
        {/if}
      {/each}
      {#each w.ips as ip, i (i)}
        {@const px = w.axes.x(ip.chainage_m)}
        {@const py = y(ip.level_m)}
        {#if px > 50 && px < box.w - 4}
          {#if w.selected === i && ip.curve_length_m > 0}
            {#each [ip.curve_start_m, ip.curve_end_m] as s (s < ip.chainage_m)}
              {@const tangent = s < ip.chainage_m ? (ip.grade_in ?? 0) : (ip.grade_out ?? 0)}
              <g
                class="handle"
                transform={`translate(${w.axes.x(s)} ${y(ip.level_m + tangent * (s - ip.chainage_m))})`}
                {@attach stretch(i)}
              >
                <circle r="12" fill="transparent" />
                <circle class="end" r="4.5" />
              </g>
            {/each}
          {/if}
          <g
            class="handle"
            class:selected={w.selected === i}
            class:fails={failing.has(i)}
            transform={`translate(${px} ${py})`}
            role="button"
            tabindex={w.selected === i || (w.selected === null && i === 0) ? 0 : -1}
            aria-label={`IP ${i} at ${chainage(ip.chainage_m)}, level ${fixed(ip.level_m, 2)} m`}
            data-ip={i}
            onfocus={() => {
              if (w.selected !== i) w.select(i);
            }}
            {@attach handle(i, () => w.ips[i])}
          >
            <circle r="13" fill="transparent" />
            <rect x="-6" y="-6" width="12" height="12" rx="3" />
            {#if failing.has(i)}<text class="flag" y="-11" text-anchor="middle">✕</text>{/if}
          </g>
        {/if}
      {/each}
    </svg>
  {/snippet}
</Track>

<style>
  svg {
    position: absolute;
    inset: 0;
    touch-action: none;
  }
  .handle {
    cursor: grab;
    outline: none;
  }
  .handle:focus-visible rect {
    stroke: var(--ink-plumb);
    stroke-width: 3;
  }
  .handle:active {
    cursor: grabbing;
  }
  rect,
  .end {
    fill: var(--ink-paper);
    stroke: var(--ink-line);
    stroke-width: 2;
  }
  .handle:hover rect,
  .handle:hover .end {
    stroke-width: 3;
  }
  .selected rect {
    fill: var(--ink-line);
  }
  .fails rect {
    stroke: var(--ink-failure);
  }
  .flag {
    fill: var(--ink-failure);
    font-size: 12px;
    font-weight: 800;
  }
  .grade {
    fill: var(--ink-line);
    font-size: 12px;
    font-weight: 600;
    paint-order: stroke;
    stroke: var(--ink-paper);
    stroke-width: 3px;
    pointer-events: none;
  }
</style>
