<script lang="ts">
  import { useWork } from '../../lib/state/work.svelte';
  import TableView from '../../lib/TableView.svelte';

  // Elements, or critical points: where elements meet, middles of bends, ends.
  const w = useWork();
  let table = $state<'elements' | 'points'>('points');
</script>

<div class="row">
  <label
    ><select class="select select-sm" bind:value={table} aria-label="Which table">
      <option value="points">Critical points</option>
      <option value="elements">Tangents, arcs, transitions</option>
    </select></label
  >
  {#if w.project && w.road}
    <a
      class="btn btn-xs"
      href={`/api/projects/${w.project.id}/files/centrelines?revision=${w.project.revision}`}
      title="The centreline and its grade lines, for other programs"
      download>LandXML</a
    >
  {/if}
</div>
{#key table}<TableView {table} />{/key}

<style>
  .row {
    display: flex;
    gap: 8px;
    align-items: center;
  }
</style>
