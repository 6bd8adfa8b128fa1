<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { figure, told } from '../../lib/units';
  import { upload, type Schemas } from '../../api/client';
  import { READERS } from '../../api/fields';
  import { columnsOf, fieldsOfRows, pasted } from '../../lib/fields/columns';
  import Field from '../../lib/fields/Field.svelte';
  import Grid from '../../lib/fields/Grid.svelte';
  import { plainChainage, whole } from '../../lib/format';
  import { NotUnderstood } from '../../lib/parse';
  import { NO_BEND } from '../../lib/state/planned';
  import { back, type Equation } from '../../lib/stations.svelte';
  import type { Value } from '../../lib/units';
  import { useWork } from '../../lib/state/work.svelte';

  // The IPs as a table: typed, pasted, read from a file, or made by the rules.
  const w = useWork();
  const d = $derived(w.drawing);
  // Whether a file is to be brought from the grid to the ground; asked where the project has a scale between them.
  const scaled = $derived((w.project?.coordinates?.scale_factor ?? 1) !== 1);
  let wished = $state(false);
  /** Lines of a file that holds several. */
  let several = $state.raw<Schemas['AlignmentOut'][]>([]);
  // The ends have no bend; superelevation stands with the bends.
  const columns = $derived(
    byParameter(
      columnsOf('centreline', (name, i) => !(name in NO_BEND) || (i > 0 && i < d.ips.length - 1)).filter(
        (c) => c.key !== 'superelevation' && c.key !== 'joins',
      ),
    ),
  );

  const SIDES = { transition_in_m: 'A in', transition_out_m: 'A out' } as const;
  type Side = keyof typeof SIDES;
  const isSide = (key: string): key is Side => key in SIDES;

  /** How much the curvature changes along a transition of IP i. [1/m] */
  function bent(i: number, side: Side, radius = d.ips[i]?.radius_m ?? 0, all = d.ips): number {
    const before = side === 'transition_in_m' && all[i]?.joins ? (all[i - 1]?.radius_m ?? 0) : 0;
    return radius > 0 ? Math.abs(1 / radius - (before > 0 ? 1 / before : 0)) : 0;
  }

  /** Columns of transitions as lengths, or as parameters. */
  function byParameter<C extends { key: string; title: string; show: (row: unknown, i: number) => string }>(
    all: C[],
  ): C[] {
    if (!w.written.parameter) return all;
    return all.map((c) => {
      const side = c.key;
      if (!isSide(side)) return c;
      const show = (row: unknown, i: number) => {
        const length = (row as Record<Side, number>)[side];
        const change = bent(i, side);
        return c.show(row, i) === '' || !change ? '' : figure('length', Math.sqrt(length / change));
      };
      return { ...c, title: SIDES[side], show };
    });
  }

  const millimetres = (v: number) => Math.round(1000 * v) / 1000;

  /** Pasted parameters become lengths. */
  function fromParameters(rows: Schemas['CentrelineIpIn'][], at: number, key: string, cells: string[][]): void {
    const order = fieldsOfRows('centreline').map((f) => f.name);
    for (const side of Object.keys(SIDES) as Side[]) {
      const column = order.indexOf(side) - order.indexOf(key);
      cells.forEach((line, k) => {
        const row = rows[at + k]!;
        if (line[column]?.trim()) row[side] = millimetres(row[side] ** 2 * bent(at + k, side, row.radius_m, rows));
      });
    }
  }

  /** What a typed cell changes: a parameter gives its length, and stays when the radius is typed. */
  function typedOf(i: number, key: string, value: number): Partial<Schemas['CentrelineIpIn']> {
    if (!w.written.parameter) return { [key]: value };
    if (isSide(key)) return { [key]: millimetres(value ** 2 * bent(i, key)) };
    if (key !== 'radius_m') return { [key]: value };
    const own = d.ips[i]!;
    const stays = (side: Side) => {
      const now = bent(i, side);
      return now ? millimetres((own[side] / now) * bent(i, side, value)) : own[side];
    };
    return {
      radius_m: value,
      transition_in_m: stays('transition_in_m'),
      transition_out_m: stays('transition_out_m'),
    };
  }

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

  // Where an equation stands is typed as what is written just before it.
  const EQUATION_COLUMNS = [
    {
      key: 'back',
      title: 'back',
      dimension: 'station' as const,
      show: (e: Equation) => plainChainage(back(e.at_m)),
      edit: () => true,
      emptied: (i: number) => dropEquations([i]),
    },
    {
      key: 'ahead',
      title: 'ahead',
      dimension: 'station' as const,
      show: (e: Equation) => plainChainage(e.ahead_m),
      edit: () => true,
      emptied: (i: number) => dropEquations([i]),
    },
  ];
  function equate(i: number, key: string, value: Value): string | null {
    const own = d.equations[i]!;
    const typed = value as number;
    // A new place back keeps the stretch before it, and what is written ahead.
    const next = key === 'back' ? { ...own, at_m: own.at_m + typed - back(own.at_m) } : { ...own, ahead_m: typed };
    const [first, last] = [d.startM, d.startM + (d.draft?.length_m ?? Infinity)];
    if (next.at_m < first || next.at_m > last) return 'That is no place on this line.';
    d.typedEquations = d.equations.map((e, k) => (k === i ? next : e));
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

  function take(line: Schemas['AlignmentOut']): void {
    d.bring(line.ips);
    if (line.start_chainage_m !== d.startM) d.start = line.start_chainage_m;
    if (line.equations.length) d.typedEquations = line.equations;
    several = [];
    if (line.deviation_m > 0.0005)
      w.notices.say(`“${line.name}” is read to ${told('plan', line.deviation_m)} of what the file says.`);
  }

  const suffixes = (makes: 'centreline' | 'polyline') =>
    READERS.filter((r) => r.makes === makes)
      .flatMap((r) => r.suffixes)
      .join();

  let fitting = $state(false);
  /** A file with several lines, to choose one from. */
  let choice = $state.raw<{ file: File; lines: Schemas['LineInFile'][] } | null>(null);
  /** A line of few vertices: they may be its IPs, or points to fit to. */
  let few = $state.raw<Schemas['FitOut'] | null>(null);
  /** A line with no more vertices is likely drawn by its corners. */
  const FEW = 12;

  async function fit(file: File, which?: number): Promise<void> {
    fitting = true;
    choice = few = null;
    try {
      const url = `/api/projects/${w.project!.id}/centreline/fit`;
      const fields = { on_grid: String(scaled && wished), ...(which === undefined ? {} : { which: String(which) }) };
      const found = await upload<Schemas['FitOut']>(url, file, file.name, fields);
      const { lines, fitted: f, vertices } = found;
      if (vertices.length && (!f || vertices.length <= FEW)) few = found;
      else if (f) takeFitted(f, found.space);
      else choice = { file, lines };
    } catch (error) {
      d.refused = error instanceof Error ? error.message : String(error);
    } finally {
      fitting = false;
    }
  }

  function takeVertices(found: Schemas['FitOut']): void {
    few = null;
    d.bring(found.vertices, found.space);
    w.notices.say(`${found.vertices.length} vertices taken as IPs; give them bends in the grid, or all at once.`);
  }

  function takeFitted(f: NonNullable<Schemas['FitOut']['fitted']>, space: number[][]): void {
    few = null;
    d.bring(f.ips, space);
    const bends = f.ips.length - 2;
    w.notices.say(
      `Fitted to ${whole(f.points)} points of “${f.name}”: ${bends === 1 ? 'one bend' : `${bends} bends`}; points scatter by ` +
        `${told('length', f.rms_m)}, the furthest is ${told('length', f.deviation_m)} off.`,
    );
  }

  async function read(file: File): Promise<void> {
    try {
      const url = `/api/projects/${w.project!.id}/centreline/read`;
      const on_grid = String(scaled && wished);
      const { lines } = await upload<Schemas['CentrelineRead']>(url, file, file.name, { on_grid });
      if (lines.length === 1) take(lines[0]!);
      else several = lines;
    } catch (error) {
      d.refused = error instanceof Error ? error.message : String(error);
    }
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
  <Grid
    label={worded('Chainage equations')}
    columns={EQUATION_COLUMNS}
    rows={d.equations}
    name={(i) => `= ${i + 1}`}
    ontype={equate}
    current={equation}
    oncurrent={(i) => ([equation, d.current] = [i, null])}
    ondelete={dropEquations}
  />
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
      d.type(i, typedOf(i, key, value as number));
      return null;
    }}
    onpaste={paste}
    ondelete={(gone) => d.remove(gone)}
  />
</div>
{#if several.length}
  <div class="advice-box" role="group" aria-label="Lines of the file">
    The file holds {several.length} lines:
    {#each several as line (line.name)}
      <button class="btn btn-xs" onclick={() => take(line)}>{line.name}, {line.ips.length} IPs</button>
    {/each}
    <button class="btn btn-xs" onclick={() => (several = [])}>None</button>
  </div>
{/if}
{#if choice}
  <div class="advice-box" role="group" aria-label="Lines of the file">
    The file holds {choice.lines.length} lines, the longest first:
    {#each choice.lines.slice(0, 12) as line, i (i)}
      <button class="btn btn-xs" onclick={() => void fit(choice!.file, i)}
        >{line.name}, {told('about', line.length_m)}, {whole(line.points)} points</button
      >
    {/each}
    <button class="btn btn-xs" onclick={() => (choice = null)}>None</button>
  </div>
{/if}
{#if few}
  <div class="advice-box" role="group" aria-label="A line of few vertices">
    The line has {few.vertices.length} vertices{few.refused ? `, and can't be fitted: ${few.refused}` : ':'}
    <button class="btn btn-xs btn-primary" onclick={() => takeVertices(few!)}>Take them as IPs</button>
    {#if few.fitted}
      {@const f = few.fitted}
      <button class="btn btn-xs" onclick={() => takeFitted(f, few!.space)}
        >Fit tangents and arcs, {told('length', f.deviation_m)} off at most</button
      >
    {/if}
    <button class="btn btn-xs" onclick={() => (few = null)}>Neither</button>
  </div>
{/if}
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
  <label class="btn btn-xs"
    >Read a file…<input
      type="file"
      class="sr-only"
      accept={suffixes('centreline')}
      onchange={(e) => {
        const file = e.currentTarget.files?.[0];
        if (file) void read(file);
        e.currentTarget.value = '';
      }}
    /></label
  >
  <label class="btn btn-xs" title="Tangents, arcs and transitions fitted to a line of DXF, GeoJSON, LandXML or text"
    >{fitting ? 'Fitting…' : 'Fit to a line…'}<input
      type="file"
      class="sr-only"
      disabled={fitting}
      accept={suffixes('polyline')}
      onchange={(e) => {
        const file = e.currentTarget.files?.[0];
        if (file) void fit(file);
        e.currentTarget.value = '';
      }}
    /></label
  >
  {#if scaled}
    <label class="ticked"
      ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={wished} /> its coordinates are grid, not ground:
      convert them</label
    >
  {/if}
</div>

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
