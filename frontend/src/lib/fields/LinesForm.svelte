<script lang="ts">
  import { readBoundaries } from '../state/files';
  import { changeRows, rowsOf, type RowsKind } from '../state/rows';
  import { useWork } from '../state/work.svelte';

  // Lines of a file, kept as the corners of an input: boundaries of the reserve, lines that edges are led by.
  interface Props {
    kind: RowsKind;
    /** What they are called together, and one of them that has no name. */
    label: string;
    one: string;
  }
  let { kind, label, one }: Props = $props();
  interface Corner {
    name: string;
    easting_m: number;
    northing_m: number;
  }
  const w = useWork();
  const names = $derived([...new Set(rowsOf<Corner>(kind, w.project).map((c) => c.name))]);
  let onGrid = $state(false);
  let refused = $state<string | null>(null);
  const change = (make: (rows: Corner[]) => Corner[]) => changeRows<Corner>(w, kind, label, make);

  async function read(e: Event & { currentTarget: HTMLInputElement }): Promise<void> {
    const input = e.currentTarget;
    const file = input.files?.[0];
    if (!file) return;
    refused = null;
    try {
      const found = await readBoundaries(w, file, onGrid);
      const taken = [...names];
      const rows = found.lines.flatMap((line) => {
        let name = line.name || one;
        for (let n = 2; taken.includes(name); n++) name = `${line.name || one} ${n}`;
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
  <ul aria-label={label}>
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
  aria-label={`Read ${label} from a file`}
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
