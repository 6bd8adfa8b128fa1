<script lang="ts">
  import { unitLength, worded } from '../../lib/system.svelte';
  import { figure, told, unitOf, few } from '../../lib/units';
  import { ready } from '../../lib/deck/canvas';
  import { label, niceStep, strokeThick, type View } from '../../lib/deck/draw';
  import { inks } from '../../lib/deck/ink';
  import { drawBends } from '../../lib/deck/tracks/bends';
  import { valueAt } from '../../lib/lookup';
  import { trace } from '../../lib/deck/trace';
  import { chainage } from '../../lib/format';
  import { offsetsOf, rowsOf } from '../../lib/state/beside.svelte';
  import { even } from '../../lib/stations.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { theme } from '../../lib/theme.svelte';

  // The ground along the centreline that is typed or drawn, with what lies beside it, over its bends.
  const w = useWork();
  let canvas = $state<HTMLCanvasElement>();
  let box = $state({ w: 0, h: 0 });
  let at = $state<number | null>(null);
  const [LEFT, RIGHT, AXIS, BENDS] = [56, 10, 18, 50];
  const draft = $derived(w.drawing.draft);
  const ground = $derived(draft?.arrays.ground_chainage ? draft.arrays : null);
  /** Levels beside the line, one array for each offset. */
  const beside = $derived.by(() => {
    const { beside_chainage: s, beside_level: z } = draft?.arrays ?? {};
    if (!s || !z) return null;
    return { s, rows: rowsOf(z, s.length) };
  });
  const domain = $derived.by((): [number, number] => {
    const from = w.drawing.startM;
    return [from, from + (draft?.length_m ?? 1)];
  });
  const levels = $derived.by((): [number, number] => {
    let [low, high] = [Infinity, -Infinity];
    for (const values of [ground?.ground_level, ...(beside?.rows ?? [])])
      for (const z of values ?? []) {
        if (z < low) low = z;
        if (z > high) high = z;
      }
    return low <= high ? [low, Math.max(high, low + 0.5)] : [0, 10];
  });
  const advice = $derived(draft?.advice ?? []);
  const read = $derived.by(() => {
    if (at === null || !ground) return null;
    const z = valueAt(ground.ground_chainage!, ground.ground_level!, at);
    const said = advice.find((u) => u.from_chainage_m <= at! && at! <= u.to_chainage_m);
    const bend = draft?.bends.find(({ bend: b }) => b.from_chainage_m <= at! && at! <= b.to_chainage_m)?.bend;
    return { z, said, bend };
  });

  const view = $derived.by((): View | null => {
    const c = ready(canvas, box.w, box.h, false);
    if (!c) return null;
    const [left, right] = [LEFT, box.w - RIGHT];
    const k = (right - left) / Math.max(domain[1] - domain[0], 1e-6);
    return { c, w: box.w, h: box.h - BENDS - AXIS, left, right, domain, x: (s) => left + (s - domain[0]) * k };
  });

  $effect(() => {
    void theme.name;
    const v = view;
    if (!v || !ready(canvas, box.w, box.h) || !draft?.length_m) return;
    const { c } = v;
    const ink = inks();
    const up = (v.h - 14) / (levels[1] - levels[0]);
    const y = (z: number) => v.h - 6 - (z - levels[0]) * up;
    c.lineWidth = 1;
    const step = niceStep(levels[1] - levels[0], v.h / 30);
    for (let z = Math.ceil(levels[0] / step) * step; z <= levels[1]; z += step) {
      c.strokeStyle = ink.grid;
      c.beginPath();
      c.moveTo(v.left, Math.round(y(z)) + 0.5);
      c.lineTo(v.right, Math.round(y(z)) + 0.5);
      c.stroke();
      c.textAlign = 'right';
      label(c, figure('level', z, step < unitLength() ? 1 : 0), v.left - 6, y(z) + 4, ink.faint);
      c.textAlign = 'left';
    }
    if (beside) {
      c.strokeStyle = ink.ground;
      c.globalAlpha = 0.45;
      beside.rows.forEach((row, i) => {
        c.setLineDash((w.beside.offsets[i] ?? 0) < 0 ? [2, 3] : [7, 3]);
        c.beginPath();
        trace(c, beside.s, row, v.x, y, domain);
        c.stroke();
      });
      c.setLineDash([]);
      c.globalAlpha = 1;
    }
    if (ground) {
      c.strokeStyle = ink.ground;
      const path = new Path2D();
      trace(path, ground.ground_chainage!, ground.ground_level!, v.x, y, domain, ground.ground_gap);
      strokeThick(c, path, 2);
    }
    // The grade line, as it would go along.
    if (draft.arrays.line_chainage) {
      c.strokeStyle = ink.line;
      const path = new Path2D();
      trace(path, draft.arrays.line_chainage, draft.arrays.line_level!, v.x, y, domain);
      c.stroke(path);
    }
    c.save();
    c.translate(0, v.h);
    drawBends(
      { ...v, h: BENDS },
      (draft?.bends ?? []).map((b) => b.bend),
      advice,
    );
    c.restore();
    const every = niceStep(domain[1] - domain[0], (v.right - v.left) / 90);
    for (const s of even(domain[0], domain[1], every))
      if (v.x(s) < v.right - 40) label(c, chainage(s, every < 1 ? 1 : 0), v.x(s), box.h - 5, ink.faint);
    if (at !== null) {
      c.strokeStyle = ink.plumb;
      c.beginPath();
      c.moveTo(v.x(at), 0);
      c.lineTo(v.x(at), box.h - AXIS);
      c.stroke();
    }
  });

  let wrong = $state(false);
  function take(text: string): void {
    const found = offsetsOf(text);
    wrong = found === null;
    if (found) w.beside.set(found);
  }
</script>

<section class="draft" aria-label="Ground along the line" data-state={draft?.length_m ? 'drawn' : 'empty'}>
  <header class="num">
    <b
      >{draft?.length_m
        ? `Ground along it, ${told('length', draft.length_m, 1)}`
        : 'Ground along it: once it has two IPs'}</b
    >
    {#if read && at !== null}
      <span
        >at {chainage(at, 1)}
        {Number.isNaN(read.z) ? 'no ground' : told('level', read.z, 2)}{read.bend
          ? `, R ${figure('about', read.bend.radius_m)}`
          : ''}</span
      >
      {#if read.said}<span class="caution">{worded(read.said.name)}</span>{/if}
    {/if}
    <label
      >ground at offsets
      <input
        class="field"
        class:wrong
        aria-invalid={wrong}
        title={`Offsets in ${unitOf('size')}, to the left below zero, with commas between them; at most eight`}
        value={w.beside.offsets.map((o) => few('size', o)).join(', ')}
        onchange={(e) => take(e.currentTarget.value)}
      />
      {unitOf('size')}</label
    >
  </header>
  <div class="room" bind:clientWidth={box.w} bind:clientHeight={box.h}>
    <canvas
      bind:this={canvas}
      aria-label="Ground along the centreline, and its bends"
      onpointermove={(e) => {
        const share = (e.offsetX - LEFT) / Math.max(box.w - LEFT - RIGHT, 1);
        at = share < 0 || share > 1 ? null : domain[0] + share * (domain[1] - domain[0]);
      }}
      onpointerleave={() => (at = null)}
    ></canvas>
  </div>
</section>

<style>
  .draft {
    display: flex;
    flex-direction: column;
    height: 100%;
    border-top: 1px solid var(--color-base-300);
    background: var(--color-base-100);
  }
  header {
    display: flex;
    gap: 12px;
    align-items: center;
    flex: none;
    height: 30px;
    padding: 0 6px 0 8px;
    background: var(--color-base-200);
    white-space: nowrap;
    overflow: hidden;
  }
  header label {
    margin-left: auto;
    display: flex;
    gap: 4px;
    align-items: center;
  }
  header .field {
    width: 88px;
  }
  .wrong {
    border-color: var(--ink-failure);
  }
  .caution {
    color: var(--ink-caution);
    font-weight: 600;
  }
  .room {
    position: relative;
    flex: 1;
    min-height: 0;
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
</style>
