<script lang="ts">
  import { told } from '../units';
  import { ready } from '../deck/canvas';
  import { inks } from '../deck/ink';
  import { label } from '../deck/draw';
  import { Labels } from '../deck/labels';
  import { serviceMark } from '../deck/services';
  import { chainage } from '../format';
  import { sameCase } from '../state/figures.svelte';
  import { useWork } from '../state/work.svelte';
  import { theme } from '../theme.svelte';

  const w = useWork();
  let canvas = $state<HTMLCanvasElement>();
  let box = $state({ w: 0, h: 0 });
  let frame = 0;
  // Of a line that is there no more nothing is shown.
  const section = $derived(w.figures.section?.of.slot === w.selection.slot ? (w.figures.section?.shown ?? null) : null);
  const behind = $derived(w.case !== null && !sameCase(w.figures.section?.of ?? null, w.case));

  function paint(): void {
    frame = 0;
    const c = ready(canvas, box.w, box.h);
    if (!c) return;
    const s = section;
    if (!s || s.ground.length < 2) return;
    const ink = inks();
    const all = [...s.ground, ...s.formation];
    if (s.left) all.push([-s.left.catch_offset_m, s.left.catch_level_m]);
    if (s.right) all.push([s.right.catch_offset_m, s.right.catch_level_m]);
    const half = Math.max(...all.map((p) => Math.abs(p[0]!)));
    // What passes within the width that is shown is shown too.
    for (const [o, z] of s.services as [number, number, string, string][]) if (Math.abs(o) <= half) all.push([o, z]);
    const lo = Math.min(...all.map((p) => p[1]!));
    const hi = Math.max(...all.map((p) => p[1]!));
    // Offsets and levels to one scale: a batter looks as steep as it is.
    const k = Math.min((box.w - 16) / (2 * half), (box.h - 48) / Math.max(hi - lo, 1));
    const x = (o: number) => box.w / 2 + o * k;
    const y = (z: number) => 26 + (box.h - 48) / 2 - (z - (lo + hi) / 2) * k;
    const path = (points: number[][]) => {
      const p = new Path2D();
      for (const [o, z] of points) p.lineTo(x(o!), y(z!));
      return p;
    };
    if (s.left && s.right) {
      const works = [
        [-s.left.catch_offset_m, s.left.catch_level_m],
        ...s.formation,
        [s.right.catch_offset_m, s.right.catch_level_m],
      ];
      const [a, b] = [works[0]![0]!, works[works.length - 1]![0]!];
      const between = s.ground.filter((p) => p[0]! > a && p[0]! < b);
      const region = new Path2D();
      region.addPath(path([...works, ...between.reverse()]));
      region.closePath();
      // Between works and ground: what lies under the ground is cut, what lies above it is fill.
      for (const [edge, pattern] of [
        [box.h, ink.cutHatch],
        [0, ink.fillDots],
      ] as const) {
        const side = path(s.ground);
        side.lineTo(x(s.ground[s.ground.length - 1]![0]!), edge);
        side.lineTo(x(s.ground[0]![0]!), edge);
        c.save();
        c.clip(side);
        c.fillStyle = pattern;
        c.fill(region, 'evenodd');
        c.restore();
      }
      c.strokeStyle = ink.line;
      c.lineWidth = 1.5;
      c.stroke(path(works));
      for (const side of [s.left, s.right]) {
        if (side.caught) continue;
        const sign = side === s.left ? -1 : 1;
        label(c, '✕', x(sign * side.catch_offset_m) - 4, y(side.catch_level_m) + 4, ink.failure, true);
      }
    }
    c.strokeStyle = ink.ground;
    c.lineWidth = 1.5;
    c.stroke(path(s.ground));
    c.strokeStyle = ink.line;
    c.lineWidth = 2.5;
    c.stroke(path(s.road));
    const labels = new Labels({ c, left: 0, right: box.w, h: box.h });
    for (const [o, z, name, what] of s.services as [number, number, string, string][]) {
      if (Math.abs(o) > half) continue;
      serviceMark(c, what, x(o), y(z));
      labels.place(
        name,
        [14, -14, 28].map((off) => [x(o), y(z) + off]),
        ink.plumb,
        { halo: ink.paper },
      );
    }
    c.strokeStyle = ink.faint;
    c.lineWidth = 1;
    c.setLineDash([4, 3]);
    c.beginPath();
    c.moveTo(x(0), 24);
    c.lineTo(x(0), box.h - 16);
    c.stroke();
    c.setLineDash([]);
    c.textAlign = 'center';
    label(c, `${told('about', half)} to each side, heights ×1`, box.w / 2, box.h - 5, ink.faint);
    c.textAlign = 'left';
  }

  $effect(() => {
    void [section, box.w, box.h, theme.name];
    if (!frame) frame = requestAnimationFrame(paint);
  });
  $effect(() => () => cancelAnimationFrame(frame));

  const text = $derived.by(() => {
    const s = section;
    if (!s) return '';
    if (s.ground.length < 2) return 'no ground here';
    if (!s.formation.length) return s.ground_level_m === null ? '' : `ground ${told('level', s.ground_level_m, 2)}`;
    return `cut ${told('section_area', s.cut_m2)}, fill ${told('section_area', s.fill_m2)}`;
  });
</script>

<section
  class="view"
  class:behind
  aria-label="Section at the plumb line"
  bind:clientWidth={box.w}
  bind:clientHeight={box.h}
>
  <canvas bind:this={canvas}></canvas>
  <header><b>Section at {chainage(w.selection.plumb, 2)}</b><output class="num">{text}</output></header>
  {#if section?.lacks}<p class="lacks faint">{section.lacks}</p>{/if}
</section>

<style>
  .view {
    contain: layout paint;
    position: relative;
    height: 100%;
    background: var(--color-base-100);
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  .behind canvas,
  .behind output {
    opacity: 0.45;
    transition: opacity 0s 200ms;
  }
  .lacks {
    position: absolute;
    inset: 20px 0 auto;
    padding: 0 8px;
    font-size: 12px;
    background: var(--color-base-100);
  }
  header {
    position: absolute;
    inset: 3px 8px auto;
    display: flex;
    justify-content: space-between;
    font-size: 12px;
  }
</style>
