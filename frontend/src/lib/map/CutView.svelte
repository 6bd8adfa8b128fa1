<script lang="ts">
  import { unitLength, worded } from '../system.svelte';
  import { figure, told } from '../units';
  import { ready } from '../deck/canvas';
  import { label, niceStep } from '../deck/draw';
  import { inks } from '../deck/ink';
  import { fixed } from '../format';
  import { useWork } from '../state/work.svelte';
  import { theme } from '../theme.svelte';

  // The ground between picked points, heights exaggerated as chosen.
  const w = useWork();
  let canvas = $state<HTMLCanvasElement>();
  let box = $state({ w: 0, h: 0 });
  let times = $state(5);
  let at = $state<number | null>(null);
  const cut = $derived(w.hand.cut);
  const length = $derived(cut?.corners[cut.corners.length - 1] ?? 0);
  const [LEFT, TOP, BOTTOM] = [52, 8, 20];

  const scale = $derived.by(() => {
    if (!cut || !box.w) return null;
    const level = Array.from(cut.arrays.level!);
    const [low, high] = [Math.min(...level), Math.max(...level)];
    const k = (box.w - LEFT - 10) / Math.max(length, 1e-6);
    // As much exaggeration as was asked for, or as there is room for.
    const up = Math.min(times * k, (box.h - TOP - BOTTOM) / Math.max(high - low, 0.1));
    const x = (d: number) => LEFT + d * k;
    const y = (z: number) => box.h - BOTTOM - (z - low) * up - (box.h - TOP - BOTTOM - (high - low) * up) / 2;
    return { k, up, x, y, low, high };
  });
  const read = $derived.by(() => {
    if (at === null || !cut) return null;
    const { distance: d, level: z, gap } = cut.arrays;
    let i = 1;
    while (i < d!.length - 1 && d![i]! < at) i++;
    if (gap![i]) return null;
    const t = (at - d![i - 1]!) / (d![i]! - d![i - 1]! || 1);
    return { level: z![i - 1]! * (1 - t) + z![i]! * t, slope: (z![i]! - z![i - 1]!) / (d![i]! - d![i - 1]! || 1) };
  });
  const rise = $derived(cut ? cut.arrays.level![cut.arrays.level!.length - 1]! - cut.arrays.level![0]! : 0);

  $effect(() => {
    void theme.name;
    const c = ready(canvas, box.w, box.h);
    const s = scale;
    if (!c || !s || !cut) return;
    const ink = inks();
    c.lineWidth = 1;
    const step = niceStep(s.high - s.low || 1, (box.h - TOP - BOTTOM) / 30);
    for (let z = Math.ceil(s.low / step) * step; z <= s.high; z += step) {
      c.strokeStyle = ink.grid;
      c.beginPath();
      c.moveTo(LEFT, s.y(z));
      c.lineTo(box.w - 10, s.y(z));
      c.stroke();
      label(c, figure('level', z, step < unitLength() ? 1 : 0), 6, s.y(z) + 4, ink.faint);
    }
    for (const d of cut.corners) {
      c.strokeStyle = ink.faint;
      c.beginPath();
      c.moveTo(s.x(d), TOP);
      c.lineTo(s.x(d), box.h - BOTTOM);
      c.stroke();
      label(c, figure('length', d, 1), Math.min(s.x(d) + 2, box.w - 50), box.h - 6, ink.faint);
    }
    const { distance: d, level: z, gap } = cut.arrays;
    c.strokeStyle = ink.ground;
    c.lineWidth = 2;
    c.beginPath();
    for (let i = 0; i < d!.length; i++) {
      if (gap![i]) c.moveTo(s.x(d![i]!), s.y(z![i]!));
      else c.lineTo(s.x(d![i]!), s.y(z![i]!));
    }
    c.stroke();
    if (at !== null && read) {
      c.strokeStyle = ink.plumb;
      c.lineWidth = 1;
      c.beginPath();
      c.moveTo(s.x(at), TOP);
      c.lineTo(s.x(at), box.h - BOTTOM);
      c.stroke();
    }
  });
</script>

<div class="cut">
  <header class="num">
    <b>Section, {told('length', length)}, {rise >= 0 ? 'rises' : 'falls'} {told('length', Math.abs(rise))}</b>
    {#if at !== null && read}
      <span>at {told('length', at)} {worded('level')} {told('level', read.level)}, {fixed(100 * read.slope, 1)} %</span>
    {/if}
    <label
      >heights ×
      <select class="select select-sm" bind:value={times} aria-label="Exaggeration of heights">
        {#each [1, 2, 5, 10, 20] as t (t)}<option value={t}>{t}</option>{/each}
      </select></label
    >
    <button class="btn btn-xs" onclick={() => w.hand.drop()}>Close</button>
  </header>
  <div class="room" bind:clientWidth={box.w} bind:clientHeight={box.h}>
    <canvas
      bind:this={canvas}
      aria-label="Section of the ground"
      onpointermove={(e) => (at = scale ? Math.min(Math.max((e.offsetX - LEFT) / scale.k, 0), length) : null)}
      onpointerleave={() => (at = null)}
    ></canvas>
  </div>
</div>

<style>
  .cut {
    flex: none;
    border-top: 1px solid var(--color-base-300);
    background: var(--color-base-100);
  }
  header {
    display: flex;
    gap: 12px;
    align-items: center;
    height: 30px;
    padding: 0 6px 0 8px;
    background: var(--color-base-200);
  }
  header label {
    margin-left: auto;
    display: flex;
    gap: 4px;
    align-items: center;
    white-space: nowrap;
  }
  .room {
    position: relative;
    height: 170px;
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
</style>
