<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import InputForm from '../../lib/fields/InputForm.svelte';
  import SectionView from '../../lib/section/SectionView.svelte';
  import { sheetAddress } from '../../lib/address';
  import { useWork } from '../../lib/state/work.svelte';

  const w = useWork();
</script>

<div class="view"><SectionView /></div>
{#if w.line && w.project}
  <a class="btn btn-xs" href={sheetAddress(w.project.id, 'sections', w.line.slot)}>Sections on paper</a>
{:else if w.still}
  <p>Without a grade line there is only the ground here: cut and fill follow from a line.</p>
  <button class="btn btn-xs" onclick={() => w.goToStep('line')}>Make a first line</button>
{:else if w.missing}
  <p>{w.missing.message}</p>
  <button class="btn btn-xs" onclick={() => w.goToStep(w.missing!.step)}>Go there</button>
{/if}
<h2>Typical section</h2>
<InputForm kind="section" />
<h2>Costs</h2>
<p class="faint">{worded('Cut by the bank m³; fill, haul, borrow and spoil by the compacted m³.')}</p>
<InputForm kind="cost" />

<style>
  .view {
    height: 150px;
    border-bottom: 1px solid var(--color-base-300);
    margin: 0 -10px 6px;
  }
</style>
