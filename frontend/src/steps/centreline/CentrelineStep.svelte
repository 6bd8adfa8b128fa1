<script lang="ts">
  import { api, ask, upload, type Schemas } from '../../api/client';
  import { columnsOf, pasted } from '../../lib/fields/columns';
  import Grid from '../../lib/fields/Grid.svelte';
  import { READERS } from '../../api/fields';
  import Lacks from '../../lib/Lacks.svelte';
  import Field from '../../lib/fields/Field.svelte';
  import { chainage, fixed, whole } from '../../lib/format';
  import { NotUnderstood } from '../../lib/parse';
  import Map from '../../lib/map/Map.svelte';
  import type { Value } from '../../lib/units';
  import { Latest } from '../../lib/state/latest';
  import { useWork } from '../../lib/state/work.svelte';

  type Row = Schemas['CentrelineIpIn'];
  const w = useWork();
  const saved = $derived(w.project?.centreline ?? null);
  let elements = $state.raw<Schemas['Elements'] | null>(null);
  let problem = $state<string | null>(null);
  const current = $derived(w.planIp);
  // Whether a file is to be brought from the grid to the ground; asked where the project has a scale between them.
  const scaled = $derived((w.project?.coordinates?.scale_factor ?? 1) !== 1);
  let wished = $state(false);
  // What whatever stands at a chainage keeps when the centreline is another one.
  let keeps = $state<NonNullable<Schemas['CentrelineIn']['keeps']>>('place');
  const KEEPS = [
    ['place', 'their place on the ground'],
    ['chainage', 'their chainage'],
    ['share', 'their share of the length'],
  ] as const;
  const onGrid = $derived(scaled && wished);

  // What is typed stays with the project until it is saved or put back, also while another step is looked at.
  const draft = $derived(w.centreline);
  const rows = $derived(draft.rows ?? saved?.ips ?? []);
  const startM = $derived(draft.start ?? saved?.start_chainage_m ?? 0);
  const dirty = $derived(draft.rows !== null || draft.start !== null);
  const change = (next: Row[]) => (w.centreline = { ...w.centreline, rows: next });

  const PLACE = { easting_m: 0, northing_m: 0 };
  const NO_BEND = { radius_m: 0, transition_in_m: 0, transition_out_m: 0 };
  // The ends have no bend.
  const columns = $derived(columnsOf('centreline', (name, i) => !(name in NO_BEND) || (i > 0 && i < rows.length - 1)));

  // Elements follow what is typed, or dragged on the map; the rules are the server's.
  const asked = new Latest(
    (body: Schemas['CentrelineCheck']) => ask(api.POST('/api/centreline/elements', { body })),
    (answer, body) => {
      if (body.ips === rows) [elements, problem] = [answer, null];
      else if (rows.length > 1) elements = answer;
    },
    (error) => ([elements, problem] = [null, error instanceof Error ? error.message : String(error)]),
  );
  $effect(() => {
    if (rows.length > 1) asked.want({ start_chainage_m: startM, ips: rows });
    else [elements, problem] = [null, null];
  });

  /** Radius and sense; of a transition where it goes to, or comes from. */
  function bent(e: Schemas['ElementOut']): string {
    const radius = e.to_radius_m || e.radius_m;
    if (!radius) return '';
    const says = `${fixed(Math.abs(radius), 0)} ${radius > 0 ? 'right' : 'left'}`;
    if (e.kind === 'arc') return says;
    return e.radius_m === 0 ? `to ${says}` : `from ${fixed(Math.abs(e.radius_m), 0)}`;
  }

  $effect(() => {
    w.plan = { ips: rows, line: elements?.plan ?? null, saved: !dirty, current: w.planIp };
  });
  $effect(() => () => {
    w.plan = null;
    w.planIp = null;
  });

  function type(i: number, key: string, value: Value): null {
    change(rows.map((r, k) => (k === i ? { ...r, [key]: value } : r)));
    return null;
  }

  function paste(at: number, key: string, cells: string[][]): string | null {
    try {
      change(pasted('centreline', rows, at, key, cells, { ...PLACE, ...NO_BEND }));
    } catch (error) {
      return error instanceof NotUnderstood ? error.message : String(error);
    }
    return null;
  }

  function insert(): void {
    const at = current !== null && current < rows.length - 1 ? current + 1 : Math.max(rows.length - 1, 0);
    const [a, b] = [rows[at - 1], rows[at]];
    const between: Row =
      a && b
        ? {
            easting_m: (a.easting_m + b.easting_m) / 2,
            northing_m: (a.northing_m + b.northing_m) / 2,
            ...NO_BEND,
            radius_m: 100,
          }
        : { ...PLACE, ...NO_BEND };
    change([...rows.slice(0, at), between, ...rows.slice(at)]);
    w.planIp = at;
  }

  async function read(file: File): Promise<void> {
    try {
      const url = `/api/projects/${w.project!.id}/centreline/read`;
      const answer = await upload<Schemas['CentrelineRead']>(url, file, file.name, { on_grid: String(onGrid) });
      change(answer.ips);
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }

  function putBack(): void {
    w.centreline = { rows: null, start: null };
  }

  async function save(): Promise<void> {
    const sent = { start_chainage_m: startM, ips: rows, keeps };
    problem = await w.save({
      what: 'the centreline',
      send: ({ path, base, token }) =>
        ask(api.PUT('/api/projects/{project_id}/centreline', { params: { path }, body: { base, token, ...sent } })),
    });
    if (problem) return;
    if (sent.ips === rows) putBack();
    if (!w.missing && w.project?.lines.length === 0) w.goToStep('line');
  }
</script>

<div class="work widest">
  <div class="main">
    {#if w.project?.surveys.length}
      <Map title={`The ground${saved ? ', the saved centreline' : ''}${dirty ? ', what is typed dashed' : ''}`} />
    {:else}
      <div class="empty">
        <h2>The centreline</h2>
        <p>
          Type or paste its IPs on the right, with a radius at each corner and transitions where there are any, or read
          them from a text table with easting, northing, radius and transition lengths.
        </p>
        {#if w.missing}<p class="faint">{w.missing.message}</p>{/if}
      </div>
    {/if}
  </div>
  <aside>
    <h2>Centreline{elements ? `, ${whole(elements.length_m)} m` : ''}</h2>
    <Field
      id="centreline-start"
      label="starts at"
      value={startM}
      dimension="chainage"
      aside="chainage"
      take={(v) => {
        w.centreline = { ...w.centreline, start: v as number };
        return null;
      }}
    />
    <div class="pane">
      <Grid
        label="IPs of the centreline"
        {columns}
        {rows}
        {current}
        name={(i) => String(i + 1)}
        oncurrent={(i) => (w.planIp = i)}
        ontype={type}
        onpaste={paste}
        ondelete={(gone) => change(rows.filter((_, i) => !gone.includes(i)))}
      />
    </div>
    <div class="buttons">
      <button class="btn btn-xs" onclick={insert}>Insert a row</button>
      <button
        class="btn btn-xs"
        disabled={current === null}
        onclick={() => change(rows.filter((_, i) => i !== current))}>Delete the row</button
      >
      <label class="btn btn-xs"
        >Read a table…<input
          type="file"
          class="sr-only"
          accept={READERS.filter((r) => r.makes === 'centreline')
            .flatMap((r) => r.suffixes)
            .join()}
          onchange={(e) => {
            const file = e.currentTarget.files?.[0];
            if (file) void read(file);
            e.currentTarget.value = '';
          }}
        /></label
      >
      {#if scaled}
        <label class="ticked"
          ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={wished} /> a table on the grid: bring it to the
          ground</label
        >
      {/if}
    </div>
    {#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
    {#if w.missing?.step === 'centreline' && saved && !dirty}
      <div class="failure-box" role="alert">{w.missing.message}</div>
    {:else if !dirty}<Lacks />{/if}
    {#if w.project?.lines.length || w.project?.notes?.rows?.length}
      <label class="keeps"
        >grade lines and notes keep
        <select class="select select-sm" bind:value={keeps}>
          {#each KEEPS as [id, says] (id)}<option value={id}>{says}</option>{/each}
        </select>
      </label>
    {/if}
    <div class="buttons">
      <button
        class="btn btn-primary btn-sm"
        disabled={!dirty || problem !== null || rows.length < 2}
        onclick={() => void save()}>Save the centreline</button
      >
      <button class="btn btn-sm" disabled={!dirty} onclick={() => putBack()}>Put it back</button>
    </div>
    {#if elements}
      <h2>Tangents, arcs, transitions</h2>
      <table class="sheet num">
        <thead><tr><th></th><th>from</th><th>to</th><th>length, m</th><th>radius, m</th></tr></thead>
        <tbody>
          {#each elements.elements as e (e.from_chainage_m)}
            <tr>
              <td class="kind">{e.kind}</td>
              <td>{chainage(e.from_chainage_m)}</td>
              <td>{chainage(e.to_chainage_m)}</td>
              <td>{fixed(e.length_m, 2)}</td>
              <td>{bent(e)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
  </aside>
</div>

<style>
  .pane {
    overflow: auto;
    max-height: 270px;
  }
  .buttons {
    display: flex;
    gap: 6px;
    margin: 8px 0;
    flex-wrap: wrap;
  }
  .keeps {
    display: flex;
    align-items: center;
    gap: 8px;
  }
  .keeps select {
    flex: 1;
  }
  td {
    white-space: nowrap;
  }
  .kind {
    text-align: left;
  }
  .empty {
    display: grid;
    place-content: center;
    height: 100%;
    padding: 0 20%;
    text-align: center;
    gap: 8px;
  }
  .failure-box {
    margin: 6px 0;
  }
</style>
