<script lang="ts">
  import { told } from '../units';
  import { ready } from '../deck/canvas';
  import { inks } from '../deck/ink';
  import { label } from '../deck/draw';
  import { chainage } from '../format';
  import { paintDrawing } from '../scene';
  import { sameCase } from '../state/figures.svelte';
  import { useWork } from '../state/work.svelte';
  import { theme } from '../theme.svelte';

  interface Props {
    /** With what it takes of each thing. */
    more?: boolean;
  }
  let { more = false }: Props = $props();
  const w = useWork();
  let canvas = $state<HTMLCanvasElement>();
  let box = $state({ w: 0, h: 0 });
  let foot = $state(0);
  let frame = 0;
  /** Names and falls are written on a road that is drawn larger. [px/m] */
  const SMALL = 26;
  // Of a line that is there no more nothing is shown.
  const section = $derived(w.figures.section?.of.slot === w.selection.slot ? (w.figures.section?.shown ?? null) : null);
  const behind = $derived(w.case !== null && !sameCase(w.figures.section?.of ?? null, w.case));

  function paint(): void {
    frame = 0;
    const c = ready(canvas, box.w, box.h);
    if (!c) return;
    const s = section;
    if (!s?.drawing.strokes.length) return;
    const ink = inks();
    const [x0, lo, x1, hi] = s.box;
    const half = Math.max(-x0, x1);
    const high = box.h - (more || s.lacks ? foot : 0);
    // Offsets and levels to one scale: a batter looks as steep as it is.
    const k = Math.min((box.w - 16) / (2 * half), (high - 48) / Math.max(hi - lo, 1));
    const x = (o: number) => box.w / 2 + o * k;
    const y = (z: number) => 26 + (high - 48) / 2 - (z - (lo + hi) / 2) * k;
    // Where the road is small, what is written on it would hide it.
    const words = s.drawing.words.filter((t) => k > SMALL || (t.role !== 'road' && t.role !== 'faint'));
    paintDrawing(c, { ...s.drawing, words }, x, y, { w: box.w, h: high });
    c.strokeStyle = ink.faint;
    c.lineWidth = 1;
    c.setLineDash([4, 3]);
    c.beginPath();
    c.moveTo(x(0), 24);
    c.lineTo(x(0), high - 16);
    c.stroke();
    c.setLineDash([]);
    c.textAlign = 'center';
    label(c, `${told('about', half)} to each side, heights ×1`, box.w / 2, high - 5, ink.faint);
    c.textAlign = 'left';
  }

  $effect(() => {
    void [section, box.w, box.h, foot, theme.name];
    if (!frame) frame = requestAnimationFrame(paint);
  });
  $effect(() => () => cancelAnimationFrame(frame));

  const each = $derived(
    (section?.columns ?? [])
      .filter((c) => c.id !== 'fill' && c.id !== 'batters')
      .map((c) => `${c.name} ${c.unit === 'volume' ? told('section_area', c.amount) : told('length', c.amount)}`)
      .join(', '),
  );

  const text = $derived.by(() => {
    const s = section;
    if (!s) return '';
    if (!s.drawing.strokes.length) return 'no ground here';
    if (!s.on_road) return s.ground_level_m === null ? '' : `ground ${told('level', s.ground_level_m, 2)}`;
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
  {#if more || section?.lacks}
    <footer class="faint" bind:clientHeight={foot}>
      {#if more}<span class="num">{each}</span>{/if}
      {#if section?.lacks}<span>{section.lacks}</span>{/if}
    </footer>
  {/if}
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
  footer {
    position: absolute;
    inset: auto 0 0;
    padding: 2px 8px;
    font-size: 12px;
    line-height: 1.3;
    background: var(--color-base-100);
  }
  footer span {
    display: block;
  }
  header {
    position: absolute;
    inset: 3px 8px auto;
    display: flex;
    justify-content: space-between;
    font-size: 12px;
  }
</style>
