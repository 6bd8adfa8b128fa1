<script lang="ts">
  import Field from '../../lib/fields/Field.svelte';
  import TableView from '../../lib/TableView.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { told } from '../../lib/units';

  // Sections of the present line as numbers: the named points of each, and what each takes.
  const w = useWork();
  let interval = $state.raw<number | null>(null);
  let table = $state<'named-points' | 'section-takes'>('named-points');
  let open = $state(false);
  const slot = $derived(w.selection.slot ?? undefined);
</script>

<details class="fold" bind:open>
  <summary>Sections as tables</summary>
  {#if open}
    <div class="row" role="radiogroup" aria-label="Table of sections">
      <label><input type="radio" class="radio radio-xs" value="named-points" bind:group={table} />named points</label>
      <label
        ><input type="radio" class="radio radio-xs" value="section-takes" bind:group={table} />what each takes</label
      >
    </div>
    <Field
      id="sections-interval"
      label="each"
      value={interval}
      dimension="size"
      optional
      free="as reported"
      take={(v) => {
        if (typeof v === 'number' && v < 1) return `At least ${told('size', 1)}.`;
        interval = typeof v === 'number' ? v : null;
        return null;
      }}
    />
    {#key table}<TableView {table} wish={{ interval_m: interval ?? undefined, critical: true, slot }} />{/key}
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
    gap: 4px;
    align-items: center;
  }
</style>
