<script lang="ts">
  import { ready } from './canvas';
  import type { Snippet } from 'svelte';
  import type { Workspace } from '../state/workspace.svelte';
  import { GUTTER, MARGIN } from '../state/axes.svelte';
  import type { View } from './draw';

  interface Props {
    w: Workspace;
    name: string;
    title: string;
    height?: number;
    readout?: string;
    draw: (view: View) => void;
    /** Whatever the drawing depends on; read so that a change draws again. */
    watch: unknown[];
    over?: Snippet;
    ontoggle?: () => void;
  }
  let { w, name, title, height, readout = '', draw, watch, over, ontoggle }: Props = $props();
  let canvas = $state<HTMLCanvasElement>();
  let box = $state({ w: 0, h: 0 });
  let frame = 0;

  function paint(): void {
    frame = 0;
    const c = ready(canvas, box.w, box.h);
    if (!c) return;
    draw({ c, w: box.w, h: box.h, left: GUTTER, right: box.w - MARGIN, x: w.axes.x, domain: w.axes.domain });
  }

  $effect(() => {
    void [watch, w.axes.domain, w.axes.width, box.w, box.h];
    if (!frame) frame = requestAnimationFrame(paint);
  });
  $effect(() => () => cancelAnimationFrame(frame));
</script>

<section
  class="track"
  class:grow={height === undefined}
  style:height={height === undefined ? null : `${height}px`}
  aria-label={title}
  data-track={name}
  bind:clientWidth={box.w}
  bind:clientHeight={box.h}
>
  <canvas bind:this={canvas}></canvas>
  {@render over?.()}
  <header>
    {#if ontoggle}
      <button class="hide" onclick={ontoggle} title="Hide this track (show it again from the track list)"
        >{title}</button
      >
    {:else}
      <span>{title}</span>
    {/if}
  </header>
  {#if readout}<output class="num">{readout}</output>{/if}
</section>

<style>
  .track {
    contain: layout paint;
    position: relative;
    border-bottom: 1px solid var(--color-base-300);
    overflow: hidden;
    flex: none;
  }
  .grow {
    flex: 1 1 0;
    min-height: 120px;
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
  header {
    position: absolute;
    left: 4px;
    top: 2px;
    font-size: 12px;
    font-weight: 700;
    pointer-events: none;
  }
  header span,
  .hide {
    background: color-mix(in srgb, var(--color-base-100) 82%, transparent);
    padding: 0 4px;
    border-radius: 3px;
    font: inherit;
    border: 0;
    color: inherit;
    min-height: 24px;
  }
  .hide {
    pointer-events: auto;
    cursor: pointer;
  }
  .hide:hover {
    text-decoration: line-through;
  }
  output {
    position: absolute;
    z-index: 2;
    right: 18px;
    top: 3px;
    font-size: 12px;
    background: color-mix(in srgb, var(--color-base-100) 88%, transparent);
    padding: 0 4px;
    border-radius: 3px;
    pointer-events: none;
  }
</style>
