<script lang="ts">
  import { readBoundaries } from '../../lib/state/files';
  import { changeRows, rowsOf } from '../../lib/state/rows';
  import { useWork } from '../../lib/state/work.svelte';

  // Boundaries of the reserve as lines of a file: each holds on the side of a road on which it lies.
  interface Corner {
    name: string;
    easting_m: number;
    northing_m: number;
  }
  const w = useWork();
  const names = $derived([...new Set(rowsOf<Corner>('reserve.corners', w.project).map((c) => c.name))]);
  let onGrid = $state(false);
  let refused = $state<string | null>(null);
  const change = (make: (rows: Corner[]) => Corner[]) =>
    changeRows<Corner>(w, 'reserve.corners', 'the boundary of the reserve', make);

  async function read(e: Event & { currentTarget: HTMLInputElement }): Promise<void> {
    const input = e.currentTarget;
    const file = input.files?.[0];
    if (!file) return;
    refused = null;
    try {
      const found = await readBoundaries(w, file, onGrid);
      const taken = [...names];
      const rows = found.lines.flatMap((line) => {
        let name = line.name || 'boundary';
        for (let n = 2; taken.includes(name); n++) name = `${line.name || 'boundary'} ${n}`;
        taken.push(name);
        return line.xy.map(([easting_m, northing_m]) => ({ name, easting_m: easting_m!, northing_m: northing_m! }));
      });
      refused = await change((now) => [...now, ...rows]);
    } catch (error) {
      refused = error instanceof Error ? error.message : String(error);
    }
    input.value = '';
  }
</script>

{#if names.length}
  <ul aria-label="Boundaries">
    {#each names as name (name)}
      <li>
        <b>{name}</b>
        <button class="btn btn-xs" onclick={() => w.act(change((rows) => rows.filter((r) => r.name !== name)))}
          >Take away</button
        >
      </li>
    {/each}
  </ul>
{/if}
<input
  class="file-input file-input-xs"
  type="file"
  accept=".csv,.txt,.dxf,.geojson,.json,.xml"
  aria-label="Read boundaries from a file"
  onchange={read}
/>
<label title="Bring it to the ground by the project's scale factor"
  ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={onGrid} />coordinates are grid, not ground</label
>
{#if refused}<p class="failure" role="alert">{refused}</p>{/if}

<style>
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
    font-size: 12.5px;
  }
  li {
    display: flex;
    gap: 8px;
    align-items: center;
    justify-content: space-between;
    min-height: 28px;
  }
  label {
    display: flex;
    gap: 4px;
    align-items: center;
    font-size: 12px;
  }
</style>
