<script lang="ts">
  import { fixed, signed, whole } from '../format';
  import type { Tool } from '../state/hand.svelte';
  import { isRingTool, TOOLS } from '../state/hand.svelte';
  import { useWork } from '../state/work.svelte';
  import { measure } from './measure';

  // What the tool in hand does, what it has found, and the button that ends it.
  let { tool }: { tool: Tool } = $props();
  const w = useWork();
  const hand = $derived(w.hand);
  const measured = $derived(tool === 'measure' ? measure(hand.line) : null);
  const least = $derived(tool === 'breakline' ? 2 : isRingTool(tool) ? 3 : Infinity);
</script>

<p class="says">
  {TOOLS.find((t) => t.id === tool)?.says}
  {#if hand.problem}<b class="failure" role="alert">{hand.problem}</b>{/if}
  {#if hand.line.length >= least}
    <button class="btn btn-primary btn-xs" onclick={() => void hand.endLine('')}
      >{tool === 'breakline' ? 'Draw it' : 'Close it'}</button
    >
  {/if}
  {#if tool === 'edge' && hand.triangle}
    {#if hand.triangle.other}
      <button class="btn btn-primary btn-xs" onclick={() => void hand.swap()}>Swap this edge</button>
    {:else}<b class="failure">{hand.triangle.why_not}</b>{/if}
  {/if}
  {#if tool === 'triangle' && hand.triangle}
    <button class="btn btn-primary btn-xs" onclick={() => void hand.dropTriangle()}>Take this triangle away</button>
  {/if}
  {#if measured}
    <span class="num measured" data-item="measured">
      {fixed(measured.length, 2)} m
      {#if hand.line.length > 2}(last {fixed(measured.last, 2)} m){/if}
      at {fixed((180 * measured.bearing) / Math.PI, 2)}°
      {#if measured.area !== null}, {whole(measured.area)} m²{/if}
      {#if measured.rise !== null && measured.grade !== null}
        , {signed(measured.rise, 2)} m ({signed(100 * measured.grade, 2)} %)
      {/if}
    </span>
  {/if}
</p>

<style>
  .says {
    position: absolute;
    left: 8px;
    top: 36px;
    z-index: 1;
    padding: 3px 8px 1px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 4px;
  }
  .measured {
    display: block;
    font-weight: 700;
  }
</style>
