<script lang="ts">
  import { GUTTER, MARGIN } from '../state/axes.svelte';
  import { useWork } from '../state/work.svelte';
  import { theme } from '../theme.svelte';
  import { ready } from './canvas';
  import { drawAxis } from './draw';
  import { FONT } from './ink';

  const w = useWork();
  const { axes } = w.selection;
  const HEIGHT = 28;
  let canvas = $state<HTMLCanvasElement>();
  let frame = 0;

  function paint(): void {
    frame = 0;
    const c = ready(canvas, axes.width, HEIGHT);
    if (!c) return;
    c.font = FONT;
    const view = { c, w: axes.width, h: HEIGHT, left: GUTTER, right: axes.width - MARGIN };
    drawAxis({ ...view, x: axes.x, domain: axes.domain }, w.selection.plumb);
  }
  // A canvas of its own: it goes with every move of the plumb line, and none of the tracks does.
  $effect(() => {
    void [axes.domain, axes.width, w.selection.plumb, theme.name];
    if (!frame) frame = requestAnimationFrame(paint);
  });
  $effect(() => () => cancelAnimationFrame(frame));
</script>

<canvas bind:this={canvas} style:height={`${HEIGHT}px`} aria-hidden="true"></canvas>

<style>
  canvas {
    position: relative;
    z-index: 1;
    background: var(--color-base-100);
    width: 100%;
    flex: none;
    pointer-events: none;
  }
</style>
