<script lang="ts">
  import Lacks from '../../lib/Lacks.svelte';
  import Map from '../../lib/map/Map.svelte';
  import SectionView from '../../lib/section/SectionView.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import FirstLine from './FirstLine.svelte';
  import IpCard from './IpCard.svelte';

  const w = useWork();
</script>

<div class="plan"><Map title="Plan" small /></div>
<div class="section"><SectionView /></div>
{#if w.still && !w.line}
  <FirstLine />
{:else if w.line}<IpCard />{/if}
<Lacks />

<style>
  .plan {
    height: 142px;
    margin: 0 -10px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .section {
    height: 152px;
    margin: 0 -10px 4px;
    border-bottom: 1px solid var(--color-base-300);
  }
</style>
