<script lang="ts">
  import type { Part } from '../../lib/state/sections.svelte';

  // What the columns of the rows mean, on a sketch of their own: numbers are those of no road.
  let { part }: { part: Part } = $props();
</script>

<svg viewBox="-12 0 200 124" role="img" aria-label="What the columns mean">
  {#if part === 'elements'}
    <path class="line" d="M6,40L78,46L96,76H122L150,30" />
    <path class="dim" d="M78,16V40M6,16V34M6,20H78M96,80V96M122,80V96M96,92H122M88,46V76M84,46h8M84,76h8" />
    <text x="42" y="14">width</text><text x="40" y="58">fall</text>
    <text x="109" y="108">width</text><text x="66" y="74">depth</text>
    <text x="106" y="62">front</text><text x="160" y="62">back</text>
    <circle cx="78" cy="46" r="3" /><text x="112" y="38">outer point</text>
  {:else if part === 'layers'}
    <path class="line" d="M6,26H96L120,32L150,62" />
    <path class="layer" d="M6,26H96V50H6Z" />
    <path class="layer" d="M96,38H126V50H96" />
    <path class="dim" d="M20,26V50M16,26h8M16,50h8M96,56V70M126,56V70M96,64H126" />
    <text x="54" y="44">thickness</text><text x="111" y="82">extends</text>
    <text x="56" y="14">from … as far as</text><text x="152" y="30">ends at</text>
    <text x="76" y="108">under what is there</text>
  {:else}
    <path class="line" d="M8,106H34L64,66H92L122,26H160" />
    <path class="dim" d="M26,106V66M22,106h8M22,66h8M64,60V46M92,60V46M64,52H92M150,106V26M146,106h8M146,26h8" />
    <text x="78" y="100">slope 1 : n</text><text x="26" y="56">band's height</text>
    <text x="78" y="42">bench</text><text x="84" y="82">its fall</text><text x="130" y="121">up to in all</text>
  {/if}
</svg>

<style>
  svg {
    width: 100%;
    font-size: 12.5px;
  }
  .line {
    fill: none;
    stroke: var(--ink-line);
    stroke-width: 1.6;
  }
  .layer {
    fill: color-mix(in srgb, var(--ink-faint) 25%, transparent);
    stroke: var(--ink-faint);
  }
  .dim {
    fill: none;
    stroke: var(--ink-faint);
    stroke-width: 0.8;
  }
  circle {
    fill: var(--color-primary);
  }
  text {
    fill: var(--ink-faint);
    text-anchor: middle;
  }
</style>
