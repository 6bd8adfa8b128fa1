<script lang="ts">
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';
  import { whole } from '../../lib/format';
  import { told } from '../../lib/units';

  // The rows of the ledger: what the line on screen takes of each thing, and what that costs.
  const w = useWork();
  const rows = $derived((w.ledger?.rows ?? []).filter((r) => r.amount > 0.05));
  const currency = $derived(w.project?.cost?.currency ?? '');
</script>

{#if rows.length}
  <table class="sheet" aria-label="What the line takes">
    <thead><tr><th class="name">what</th><th>amount</th><th>{currency}</th></tr></thead>
    <tbody>
      {#each rows as r (r.id)}
        <tr data-row={r.id} data-value={r.amount}>
          <th scope="row" class="name">{r.id.startsWith('cut-') ? `cut: ${r.name}` : worded(r.name)}</th>
          <td class="num">{told(r.unit === 'volume' ? 'volume' : 'area', r.amount)}</td>
          <td class="num">{r.cost ? whole(r.cost) : ''}</td>
        </tr>
      {/each}
    </tbody>
  </table>
{:else}
  <p class="faint">Nothing yet: it follows from a grade line.</p>
{/if}

<style>
  .name {
    text-align: left;
    white-space: normal;
  }
</style>
