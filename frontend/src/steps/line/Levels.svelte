<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { told, usualInterval } from '../../lib/units';
  import Field from '../../lib/fields/Field.svelte';
  import TableView from '../../lib/TableView.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // The present line as numbers: levels at an interval and at critical points, and its curves by their coefficients.
  const w = useWork();
  let interval = $state(usualInterval());
  let critical = $state(true);
  let table = $state<'levels' | 'curves'>('levels');
  let open = $state(false);
  const slot = $derived(w.selection.slot ?? undefined);
</script>

<details class="fold levels" bind:open>
  <summary>{worded('Levels and curves as tables')}</summary>
  {#if open}
    <div class="row" role="radiogroup" aria-label="Table">
      <label><input type="radio" class="radio radio-xs" value="levels" bind:group={table} />{worded('levels')}</label>
      <label><input type="radio" class="radio radio-xs" value="curves" bind:group={table} />curves</label>
      {#if table === 'levels'}
        <label><input type="checkbox" class="checkbox checkbox-xs" bind:checked={critical} />critical points</label>
      {/if}
    </div>
    {#if table === 'levels'}
      <Field
        id="levels-interval"
        label="each"
        value={interval}
        dimension="size"
        take={(v) => {
          if (!(typeof v === 'number' && v >= 0.1)) return `At least ${told('size', 0.1)}.`;
          interval = v;
          return null;
        }}
      />
      <p class="faint">{worded('The XLSX works the levels out by formulas: change an IP in it and they follow.')}</p>
    {:else}
      <p class="faint">
        {worded(
          'Before the IP: level = from level + b0 x + c0/2 x², x from the start. Behind it: end level − grade out y + c1/2 y², y back from the end.',
        )}
      </p>
    {/if}
    <TableView {table} wish={{ interval_m: interval, critical, slot }} />
  {/if}
</details>

<style>
  .row {
    display: flex;
    gap: 12px;
    min-height: 28px;
    align-items: center;
  }
  label {
    display: flex;
    align-items: center;
    gap: 4px;
    min-height: 24px;
    cursor: pointer;
  }
  p {
    margin: 2px 0;
    font-size: 12.5px;
  }
</style>
