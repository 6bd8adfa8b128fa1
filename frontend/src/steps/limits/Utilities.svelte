<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { readUtilities } from '../../lib/state/files';
  import RowsForm from '../../lib/fields/RowsForm.svelte';
  import { placeAt } from '../../lib/map/road';
  import { bandsOf, levelNear } from '../../lib/state/controls';
  import { changeRows, rowsOf } from '../../lib/state/rows';
  import { useWork } from '../../lib/state/work.svelte';
  import { told } from '../../lib/units';
  import { worded } from '../../lib/system.svelte';

  // Buried and overhead utilities: lines with levels, typed or read, that want cover over them or headroom under them.
  type Point = Schemas['UtilityPoint'];
  type What = Point['what'];
  const w = useWork();
  const names = $derived([...new Set(rowsOf<Point>('utilities', w.project).map((r) => r.name))]);
  const bands = $derived(bandsOf(w.marked).filter(({ of }) => of.kind === 'utility'));
  let refused = $state<string | null>(null);
  let onGrid = $state(false);
  let what = $state<What>('buried');
  const LEAST = { buried: 1, overhead: 6 } as Record<string, number>;

  const change = (make: (rows: Point[]) => Point[]) => changeRows<Point>(w, 'utilities', 'the utilities', make);
  const pointsOf = (name: string, xyz: number[][]): Point[] =>
    xyz.map(([easting_m, northing_m, level_m]) => ({
      ...{ name, what, least_m: LEAST[what]! },
      ...{ easting_m: easting_m!, northing_m: northing_m!, level_m: level_m! },
    }));
  /** A name that is not there yet. */
  const fresh = (name: string) =>
    names.includes(name) ? `${name} ${names.filter((n) => n.startsWith(name)).length + 1}` : name;

  /** A new one square across the road at the plumb line, to be moved by its vertices. */
  function across(): void {
    const s = w.selection.plumb;
    if (!w.still) return;
    const level = levelNear(w, s) + (what === 'buried' ? -1.5 : 8);
    const ends = [-30, 30].map((offset) => [
      ...placeAt(w.still!, s, offset).map((v) => Math.round(v * 100) / 100),
      level,
    ]);
    w.act(change((rows) => [...rows, ...pointsOf(fresh(what === 'buried' ? 'Pipe' : 'Power line'), ends)]));
  }

  async function read(e: Event & { currentTarget: HTMLInputElement }): Promise<void> {
    const input = e.currentTarget;
    const file = input.files?.[0];
    if (!file) return;
    refused = null;
    try {
      const found = await readUtilities(w, file, onGrid);
      refused = await change((rows) => [...rows, ...found.utilities.flatMap((s) => pointsOf(fresh(s.name), s.xyz))]);
      if (refused === null) w.notices.say(`${found.utilities.length} read from “${file.name}”.`);
    } catch (error) {
      refused = error instanceof Error ? error.message : String(error);
    }
    input.value = '';
  }

  function room(name: string): string {
    const of = bands.find((b) => b.of.what === name)?.of;
    if (!of || of.slack_m === null || of.slack_m === undefined) return 'away from this road';
    return of.slack_m < -0.0011
      ? `✕ short by ${told('length', -of.slack_m)}`
      : `${told('length', of.slack_m)} to spare`;
  }
</script>

<details class="fold">
  <summary
    >Utilities in the ground and overhead{#if names.length}<span class="faint">, {names.length}</span>{/if}</summary
  >
  {#if names.length}
    <ul aria-label="Utilities">
      {#each names as name (name)}
        <li>
          <b>{name}</b> <span class:failure={room(name).startsWith('✕')}>{room(name)}</span>
          <button class="btn btn-xs" onclick={() => w.act(change((rows) => rows.filter((r) => r.name !== name)))}
            >Take away</button
          >
        </li>
      {/each}
    </ul>
    <div class="wide">
      <RowsForm
        kind="utilities"
        label="Vertices"
        fresh={() =>
          ({ ...rowsOf<Point>('utilities', w.project).at(-1)! }) as unknown as Record<string, string | number | null>}
      />
    </div>
  {:else}
    <p class="faint">
      {worded(
        'None. Cover over what is buried and headroom under what hangs are checked on the road and its batters; levels are those of the top of a pipe, and of the lowest wire.',
      )}
    </p>
  {/if}
  <div class="row">
    <select class="select select-xs" bind:value={what} aria-label="Kind of utility">
      <option value="buried">buried</option><option value="overhead">overhead</option>
    </select>
    <button class="btn btn-xs" onclick={across}>Add one across the road here</button>
  </div>
  <div class="row">
    <input
      class="file-input file-input-xs"
      type="file"
      accept=".csv,.txt,.dxf,.geojson,.json"
      aria-label="Read utilities from a file"
      onchange={read}
    />
    <label title="Bring it to the ground by the project's scale factor"
      ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={onGrid} />coordinates are grid, not ground</label
    >
  </div>
  {#if refused}<p class="failure" role="alert">{refused}</p>{/if}
</details>

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
    min-height: 28px;
  }
  li button {
    margin-left: auto;
  }
  .wide {
    overflow-x: auto;
  }
  .row {
    display: flex;
    gap: 6px;
    align-items: center;
    margin: 4px 0;
  }
  label {
    display: flex;
    gap: 4px;
    align-items: center;
    font-size: 12px;
  }
</style>
