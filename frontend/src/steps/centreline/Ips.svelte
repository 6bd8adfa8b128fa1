<script lang="ts">
  import { columnsOf, pasted } from '../../lib/fields/columns';
  import Field from '../../lib/fields/Field.svelte';
  import Grid from '../../lib/fields/Grid.svelte';
  import { NotUnderstood } from '../../lib/parse';
  import { NO_BEND } from '../../lib/state/planned';
  import { useWork } from '../../lib/state/work.svelte';
  import { back } from '../../lib/stations.svelte';
  import { worded } from '../../lib/system.svelte';
  import { told } from '../../lib/units';
  import Equations from './Equations.svelte';
  import FromFile from './FromFile.svelte';
  import { byParameter, fromParameters, typedAsParameter } from './parameter';

  // The IPs as a table: typed, pasted, read from a file, or made by the rules.
  const w = useWork();
  const d = $derived(w.drawing);
  // The ends have no bend; superelevation stands with the bends.
  const columns = $derived.by(() => {
    const all = columnsOf('centreline', (name, i) => !(name in NO_BEND) || (i > 0 && i < d.ips.length - 1)).filter(
      (c) => c.key !== 'superelevation' && c.key !== 'joins',
    );
    return w.written.parameter ? byParameter(all, () => d.ips) : all;
  });

  /** Whether the IP in hand has a bend before it that its own could begin at. */
  const joinable = $derived(
    d.current !== null && d.current > 1 && d.current < d.ips.length - 1 && (d.ips[d.current - 1]?.radius_m ?? 0) > 0,
  );

  function paste(at: number, key: string, cells: string[][]): string | null {
    try {
      const rows = pasted('centreline', d.ips, at, key, cells, { easting_m: 0, northing_m: 0, ...NO_BEND });
      if (w.written.parameter) fromParameters(rows, at, key, cells);
      d.change(rows);
    } catch (error) {
      return error instanceof NotUnderstood ? error.message : String(error);
    }
    return null;
  }

  /** Place of the equation in hand; an IP in hand lets it go. */
  let equation = $state<number | null>(null);
  function dropEquations(gone: number[]): void {
    d.typedEquations = d.equations.filter((_, i) => !gone.includes(i));
    equation = null;
    w.notices.say(worded(gone.length === 1 ? 'The chainage equation is out.' : 'The chainage equations are out.'));
  }
  function dropRow(): void {
    if (equation !== null) dropEquations([equation]);
    else if (d.current !== null) d.remove([d.current]);
  }
  function addEquation(): void {
    const at_m = d.startM + Math.round((d.draft?.length_m ?? 0) / 2);
    d.typedEquations = [...d.equations, { at_m, ahead_m: back(at_m) + 100 }];
  }
</script>

<Field
  id="centreline-start"
  label="starts at"
  value={d.startM}
  dimension="chainage"
  aside="chainage"
  take={(v) => {
    d.start = v as number;
    return null;
  }}
/>
{#if d.equations.length}
  <Equations current={equation} oncurrent={(i) => ([equation, d.current] = [i, null])} ondelete={dropEquations} />
{/if}
<label class="ticked" title="A² = R L; between two arcs L over the difference of their curvatures"
  ><input
    type="checkbox"
    class="checkbox checkbox-xs"
    checked={w.written.parameter}
    onchange={(e) => w.written.setParameter(e.currentTarget.checked)}
  />transitions by their parameter A</label
>
<div class="pane">
  <Grid
    label="IPs of the centreline"
    {columns}
    rows={d.ips}
    current={d.current}
    name={(i) => String(i + 1)}
    oncurrent={(i) => ([equation, d.current] = [null, i])}
    ontype={(i, key, value) => {
      const typed = value as number;
      d.type(i, w.written.parameter ? typedAsParameter(d.ips, i, key, typed) : { [key]: typed });
      return null;
    }}
    onpaste={paste}
    ondelete={(gone) => d.remove(gone)}
  />
</div>
{#if d.space}
  <label class="ticked"
    ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={d.levelled} />its levels become a grade line,
    within {told('size', 0.05)} of each</label
  >
{/if}
<div class="buttons">
  <button class="btn btn-xs" onclick={() => d.insert(d.current ?? Math.max(d.ips.length - 2, 0))}>Insert a row</button>
  <button class="btn btn-xs" disabled={d.current === null && equation === null} onclick={dropRow}>Delete the row</button
  >
  {#if joinable}
    <button
      class="btn btn-xs"
      aria-pressed={d.ips[d.current!]!.joins}
      title="Its transition in begins at the arc before, without a tangent between: the radius follows"
      onclick={() => d.type(d.current!, { joins: !d.ips[d.current!]!.joins })}
      >{d.ips[d.current!]!.joins ? 'Joined to' : 'Join to'} the bend before</button
    >
  {/if}
  <button class="btn btn-xs" disabled={!d.ips.length} title="Begin from nothing" onclick={() => d.change([])}
    >Clear</button
  >
  <button
    class="btn btn-xs"
    disabled={d.ips.length < 3}
    title="Radius and transitions at every corner as the rules ask for at the design speed"
    onclick={() => void d.standard()}>Bends by the rules</button
  >
  <button
    class="btn btn-xs"
    disabled={d.ips.length < 2}
    title={worded('Where this line is joined to an old one, chainages go on from another value')}
    onclick={addEquation}>Equation</button
  >
</div>
<FromFile />

<style>
  .ticked {
    display: flex;
    align-items: center;
    gap: 6px;
    min-height: 26px;
    cursor: pointer;
  }
  .pane {
    flex: 1;
    min-height: 90px;
    overflow: auto;
  }
  .buttons {
    display: flex;
    gap: 6px;
    margin: 6px 0;
    flex-wrap: wrap;
  }
</style>
