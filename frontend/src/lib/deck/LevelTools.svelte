<script lang="ts">
  import Drop from '../Drop.svelte';
  import { LEVEL_ROWS, type LevelRow } from '../state/written.svelte';
  import { useWork } from '../state/work.svelte';
  import { unitLength } from '../system.svelte';
  import { unitOf } from '../units';

  // Which rows the track of levels has, and at which chainages.
  const w = useWork();
  const STEPS = $derived(unitLength() === 1 ? [5, 10, 20, 25, 50, 100] : [10, 20, 25, 50, 100, 200]);
  const rows = Object.entries(LEVEL_ROWS) as [LevelRow, string][];
</script>

<Drop name="Rows" title="Rows of the track, and where its numbers stand">
  {#each rows as [id, says] (id)}
    <label
      ><input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={w.written.row(id)}
        onchange={() => w.written.toggleRow(id)}
      />{says}</label
    >
  {/each}
  <label
    >each
    <select
      class="select select-xs"
      aria-label="Interval of the numbers"
      value={w.written.interval}
      onchange={(e) => w.written.setInterval(Number(e.currentTarget.value))}
    >
      <option value={0}>as there is room</option>
      {#each STEPS as step (step)}<option value={step}>{step} {unitOf('size')}</option>{/each}
    </select></label
  >
</Drop>
