<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { told, unitOf, usualInterval } from '../../lib/units';
  import Field from '../../lib/fields/Field.svelte';
  import { offsetsOf } from '../../lib/state/beside.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import TableView from '../../lib/TableView.svelte';

  // Places to be set out, with the ground there and the road of a grade line.
  const w = useWork();
  let interval = $state(usualInterval());
  let critical = $state(true);
  let offsets = $state.raw([0]);
  let typed = $state('0');
  let wrong = $state<string | null>(null);
  const slot = $derived(w.selection.slot ?? undefined);

  function take(text: string): void {
    typed = text;
    const found = offsetsOf(text, 20);
    wrong = found?.length
      ? null
      : `Numbers of ${unitOf('size')} with commas between them, at most 20, to the left below zero.`;
    if (found?.length) offsets = found;
  }
</script>

<Field
  id="setting-out-interval"
  label="each"
  value={interval}
  dimension="size"
  take={(v) => {
    if (!(typeof v === 'number' && v >= 0.1)) return `At least ${told('size', 0.1)}.`;
    interval = v;
    return null;
  }}
/>
<div class="row">
  <label for="setting-out-offsets">at offsets</label>
  <input
    id="setting-out-offsets"
    class="field num"
    value={typed}
    aria-invalid={wrong !== null}
    onchange={(e) => take(e.currentTarget.value)}
  />
  <span class="faint">{unitOf('size')}, left below zero</span>
</div>
{#if wrong}<p class="failure">{wrong}</p>{/if}
<label class="ticked"
  ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={critical} /> and where elements meet</label
>
<p class="faint">
  {worded(
    w.line
      ? `Design levels are those of “${w.line.name}” on the typical section as it is typed: neither superelevation nor widening of bends is in them yet.`
      : 'Without a grade line there are no design levels.',
  )}
</p>
<TableView table="setting-out" wish={{ interval_m: interval, critical, offsets: offsets.join(';'), slot }} />

<style>
  .row {
    display: grid;
    grid-template-columns: var(--label-width, 108px) 160px minmax(0, 1fr);
    align-items: center;
    gap: 0 6px;
    min-height: 28px;
  }
</style>
