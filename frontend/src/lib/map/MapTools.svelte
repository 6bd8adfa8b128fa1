<script lang="ts">
  import { worded } from '../system.svelte';
  import { change, told, unitOf } from '../units';
  import { fixed, signed } from '../format';
  import type { Tool } from '../state/hand.svelte';
  import { isRingTool, TOOLS } from '../state/hand.svelte';
  import { useWork } from '../state/work.svelte';
  import { measure } from './measure';

  // What the tool in hand does, what it has found, and the button that ends it.
  let { tool }: { tool: Tool } = $props();
  const w = useWork();
  const hand = $derived(w.hand);
  const measured = $derived(tool === 'measure' ? measure(hand.line) : null);
  /** The tangent under the pointer, and the last bend, while the centreline is drawn. */
  const leg = $derived.by(() => {
    const [a, b] = w.drawing.asked.slice(-2);
    return a && b
      ? measure([
          [a.easting_m, a.northing_m, NaN],
          [b.easting_m, b.northing_m, NaN],
        ])
      : null;
  });
  const bend = $derived(w.drawing.draft?.bends.at(-1)?.bend ?? null);
  const bendSays = (b: NonNullable<typeof bend>) =>
    `bend of R ${told('length', b.radius_m, 1)}, ${fixed(Math.abs(180 * b.deflection) / Math.PI, 1)}° to the ${b.deflection > 0 ? 'right' : 'left'}`;
  const least = $derived(tool === 'breakline' ? 2 : isRingTool(tool) ? 3 : Infinity);
</script>

<p class="says">
  {worded(TOOLS.find((t) => t.id === tool)?.says ?? '')}
  {#if hand.problem}<b class="failure" role="alert">{hand.problem}</b>{/if}
  {#if hand.line.length && least < Infinity}
    <span class="num measured" data-item="corners"
      >{hand.line.length}
      {hand.line.length === 1 ? 'corner' : 'corners'}{hand.line.length < least ? `, at least ${least}` : ''}</span
    >
  {/if}
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
  {#if tool === 'draw'}
    <button class="btn btn-primary btn-xs" onclick={() => hand.take('look')}>Done</button>
    {#if leg}
      <span class="num measured" data-item="leg">
        {told('length', leg.length)} at {fixed((180 * leg.bearing) / Math.PI, 2)}°{bend ? `; ${bendSays(bend)}` : ''}
      </span>
    {/if}
    {#if w.drawing.problem}<b class="failure" role="alert">{w.drawing.problem}</b>{/if}
  {/if}
  {#if measured}
    <span class="num measured" data-item="measured">
      {told('length', measured.length)}
      {#if hand.line.length > 2}(last {told('length', measured.last)}){/if}
      at {fixed((180 * measured.bearing) / Math.PI, 2)}°
      {#if measured.area !== null}, {told('area', measured.area)}{/if}
      {#if measured.rise !== null && measured.grade !== null}
        , {change('length', measured.rise)} {unitOf('length')} ({signed(100 * measured.grade, 2)} %)
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
