<script lang="ts">
  import { ApiError, upload, type Schemas } from '../../api/client';
  import { READERS } from '../../api/fields';
  import Field from '../../lib/fields/Field.svelte';
  import { fixed, whole } from '../../lib/format';
  import Map from '../../lib/map/Map.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import Changes from './Changes.svelte';
  import Codes from './Codes.svelte';
  import FileLook, { chosenOf, type Layout, type Parts, type Preview } from './FileLook.svelte';
  import PointCard from './PointCard.svelte';
  import Suspects from './Suspects.svelte';

  const suffixes = (makes: string) =>
    READERS.filter((r) => r.makes === makes)
      .flatMap((r) => r.suffixes)
      .join();

  const w = useWork();
  let file = $state.raw<File | null>(null);
  let seen = $state.raw<Preview | null>(null);
  let edge = $state(0);
  let busy = $state('');
  let problem = $state<string | null>(null);
  let over = $state(false);

  async function look(chosen: File, layout?: Layout, parts?: Parts): Promise<void> {
    file = chosen;
    busy = 'reading the file';
    problem = null;
    try {
      seen = await upload<Preview>(`/api/projects/${w.project!.id}/survey/preview`, chosen, chosen.name, {
        ...(layout ? { layout: JSON.stringify(layout) } : {}),
        ...(parts ? { parts: JSON.stringify(parts) } : {}),
      });
      edge = seen.suggested_longest_edge_m;
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
      if (!layout && !parts) seen = null;
    } finally {
      busy = '';
    }
  }

  async function accept(): Promise<void> {
    const [f, s] = [file, seen];
    if (!f || !s) return;
    busy = 'building the ground model';
    problem = await w.save({
      what: `the survey “${f.name}”`,
      send: async ({ path, base, token }) => {
        try {
          return await upload<Schemas['Saved']>(`/api/projects/${path.project_id}/survey`, f, f.name, {
            ...(s.layout ? { layout: JSON.stringify(s.layout) } : { parts: JSON.stringify(chosenOf(s)) }),
            base: String(base),
            token,
            longest_edge_m: String(edge),
          });
        } catch (error) {
          if (error instanceof ApiError && error.status === 413)
            throw new Error('The file is larger than 256 MB.', { cause: error });
          throw error;
        }
      },
    });
    busy = '';
    if (problem) return;
    seen = null;
    file = null;
  }

  function dropped(e: DragEvent): void {
    e.preventDefault();
    over = false;
    const first = e.dataTransfer?.files[0];
    if (first) void look(first);
  }

  const survey = $derived(w.project?.survey ?? null);
  const facts = $derived(w.land.facts?.of ?? null);
  const areas = $derived(w.land.areas?.key === w.project?.land_key ? (w.land.areas?.of ?? null) : null);
  $effect(() => {
    if (w.land.facts && !seen) w.land.askAreas();
  });
</script>

<div class="work">
  <div class="main">
    {#if seen && file}
      <FileLook name={file.name} {seen} again={(layout, parts) => file && void look(file, layout, parts)} />
    {:else if survey}
      <Map title="Ground" by />
    {:else}
      <!-- svelte-ignore a11y_no_static_element_interactions -->
      <div
        class="drop"
        class:over
        ondragover={(e) => {
          e.preventDefault();
          over = true;
        }}
        ondragleave={() => (over = false)}
        ondrop={dropped}
      >
        <h2>Bring in the survey</h2>
        <p>
          Text with one point a line (easting, northing and level in any order, with number, code and breakline name if
          there are), a grid (ESRI ASCII, GeoTIFF), a point cloud (LAS, LAZ), DXF or LandXML. Drop the file here or
          choose it on the right. You see how it is read before anything is stored.
        </p>
      </div>
    {/if}
  </div>
  <aside>
    <h2>Survey</h2>
    {#if survey && !seen}
      <details>
        <summary>{survey.file_name}, {whole(survey.point_count)} points</summary>
        <dl class="num">
          <dt>breaklines</dt>
          <dd>{survey.breakline_count}</dd>
          <dt>lines left out</dt>
          <dd>{survey.left_out}</dd>
          <dt>longest outer edge</dt>
          <dd>{fixed(survey.longest_edge_m, 0)} m</dd>
          {#if facts}
            <dt>triangles</dt>
            <dd>{whole(facts.triangles)}</dd>
            <dt>levels</dt>
            <dd>{fixed(facts.box_m[2]!, 2)} to {fixed(facts.box_m[5]!, 2)} m</dd>
            {#if areas}
              <dt>land in plan</dt>
              <dd>{whole(areas.plan_area_m2)} m²</dd>
              <dt>along its slopes</dt>
              <dd>{whole(areas.surface_area_m2)} m²</dd>
            {/if}
          {/if}
        </dl>
      </details>
      {#if w.project && !w.project.centreline}
        <button class="btn btn-primary btn-sm" onclick={() => w.goToStep('centreline')}>To the centreline</button>
      {/if}
      <PointCard />
      <Codes />
      <Suspects />
      <Changes />
    {/if}
    <label class="file">
      {survey ? 'Replace it by another file' : 'Choose the file'}
      <input
        type="file"
        class="file-input file-input-sm"
        accept={suffixes('survey')}
        onchange={(e) => {
          const chosen = e.currentTarget.files?.[0];
          if (chosen) void look(chosen);
        }}
      />
    </label>
    {#if busy}<p role="status">{busy}…</p>{/if}
    {#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
    {#if seen}
      {#if seen.problem}
        <div class="failure-box" role="alert">{seen.problem}</div>
      {:else}
        <dl class="num">
          <dt>points read</dt>
          <dd data-item="points">{whole(seen.points)}</dd>
          <dt>breaklines</dt>
          <dd>{seen.breaklines}</dd>
          <dt>lines not read</dt>
          <dd class:failure={seen.error_count > 0} data-item="errors">{seen.error_count}</dd>
          {#if seen.box}
            <dt>eastings</dt>
            <dd>{fixed(seen.box[0]!, 1)} to {fixed(seen.box[3]!, 1)}</dd>
            <dt>northings</dt>
            <dd>{fixed(seen.box[1]!, 1)} to {fixed(seen.box[4]!, 1)}</dd>
            <dt>levels</dt>
            <dd>{fixed(seen.box[2]!, 2)} to {fixed(seen.box[5]!, 2)}</dd>
          {/if}
        </dl>
        {#each seen.doubts as doubt (doubt)}<p class="caution">{doubt}</p>{/each}
        {#if seen.codes.length}
          <p class="faint">codes: {seen.codes.map(([c, n]) => `${c} ${n}`).join(', ')}</p>
        {/if}
        <Field
          id="survey-edge"
          label="longest edge"
          value={edge}
          dimension="size"
          aside="outside"
          take={(v) => {
            if ((v as number) < 0) return 'A length is 0 or more.';
            edge = v as number;
            return null;
          }}
        />
        <p class="faint">Outer triangles with a longer edge are left away, so that bays hold no false ground.</p>
      {/if}
      {#if seen.errors.length}
        <div class="errors">
          {#each seen.errors as e (e.line)}<p class="failure">{e.message}</p>{/each}
          {#if seen.error_count > seen.errors.length}<p class="faint">
              and {seen.error_count - seen.errors.length} more
            </p>{/if}
        </div>
      {/if}
      <div class="buttons">
        <button class="btn btn-primary btn-sm" disabled={!!seen.problem || busy !== ''} onclick={() => void accept()}>
          Accept {seen.problem ? '' : whole(seen.points)} points
        </button>
        <button
          class="btn btn-sm"
          onclick={() => {
            seen = null;
            file = null;
          }}>Put it aside</button
        >
      </div>
      <p class="faint">Nothing is stored before you accept.</p>
    {/if}
  </aside>
</div>

<style>
  .drop {
    display: grid;
    place-content: center;
    justify-items: center;
    gap: 8px;
    height: 100%;
    padding: 0 20%;
    text-align: center;
    border: 2px dashed transparent;
  }
  .drop.over {
    border-color: var(--color-primary);
  }
  .file {
    display: grid;
    gap: 4px;
    margin: 8px 0;
  }
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 2px 10px;
    margin: 6px 0;
  }
  dd {
    text-align: right;
    overflow-wrap: anywhere;
  }
  summary {
    cursor: pointer;
    overflow-wrap: anywhere;
    min-height: 24px;
  }
  .errors {
    max-height: 150px;
    overflow: auto;
    margin: 4px 0;
  }
  .caution {
    border-left: 4px solid var(--ink-caution);
    padding: 4px 8px;
    margin: 4px 0;
  }
  .buttons {
    display: flex;
    gap: 6px;
    margin-top: 8px;
  }
</style>
