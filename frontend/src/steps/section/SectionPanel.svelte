<script lang="ts">
  import Choice from '../../lib/fields/Choice.svelte';
  import LinesForm from '../../lib/fields/LinesForm.svelte';
  import InputForm from '../../lib/fields/InputForm.svelte';
  import RowsForm from '../../lib/fields/RowsForm.svelte';
  import SectionView from '../../lib/section/SectionView.svelte';
  import { sheetAddress } from '../../lib/address';
  import { changeInput } from '../../lib/state/rows';
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';
  import Quantities from './Quantities.svelte';
  import SectionTables from './SectionTables.svelte';

  const w = useWork();
  const sections = $derived(w.project?.sections ?? []);
  const works = $derived(w.project?.works);
  const names = $derived(Object.fromEntries(sections.map((s) => [s.slot, s.name])));
  const surveys = $derived(w.project?.surveys ?? []);
  const surveyNames = $derived({ '': 'none', ...Object.fromEntries(surveys.map((s) => [s.slot, s.file_name])) });
  const materials = $derived((w.project?.strata?.materials ?? []).map((m) => m.name));
  const road = $derived(w.road?.slot ?? 'centreline');
  /** From one end of the road to the other, for a new stretch. */
  const ends = $derived(w.selection.axes.full.map(Math.round));
  const stretch = () => ({ from_m: ends[0]!, to_m: ends[1]!, road });
  const here = (row: Record<string, unknown>) => row.road === road;

  const take = (name: string, value: string) =>
    changeInput(w, 'works', 'the section that is built', (now) => ({ ...now, [name]: value }));
</script>

<div class="view"><SectionView more /></div>
{#if w.line && w.project}
  <a class="btn btn-xs" href={sheetAddress(w.project.id, 'sections', w.line.slot)}>Sections on paper</a>
{:else if w.still}
  <p>Without a grade line there is only the ground here: cut and fill follow from a line.</p>
  <button class="btn btn-xs" onclick={() => w.goToStep('line')}>Make a first line</button>
{:else if w.missing}
  <p>{w.missing.message}</p>
  <button class="btn btn-xs" onclick={() => w.goToStep(w.missing!.step)}>Go there</button>
{/if}
<h2>Typical section</h2>
{#if works}
  <Choice
    id="works-section"
    label="is built"
    value={works.section}
    choices={sections.map((s) => s.slot)}
    {names}
    take={(v) => take('section', v)}
  />
  <button class="btn btn-sm btn-primary" onclick={() => w.sections.open(works.section)}>Edit the section</button>
{/if}
<h2>How it meets the ground</h2>
<InputForm kind="works" without={['section', 'survey', 'interval_m', 'reported_m', 'in_curves_m', 'reach_m']} />
{#if works?.batters_to === 'a survey' || surveys.length > 1}
  <Choice
    id="works-survey"
    label="surface"
    value={works?.survey ?? ''}
    choices={['', ...surveys.map((s) => s.slot)]}
    names={surveyNames}
    says="The survey whose surface batters run to"
    take={(v) => take('survey', v)}
  />
{/if}
<details class="fold">
  <summary>Topsoil by stretch<span class="faint">, {works?.rows.length ?? 0}</span></summary>
  <p class="faint">Elsewhere it is as deep as above; of stretches that overlap the last holds.</p>
  <div class="wide">
    <RowsForm
      kind="works"
      label="Topsoil"
      without={['road']}
      only={here}
      fresh={() => ({ ...stretch(), depth_m: 0.3 })}
    />
  </div>
</details>
<details class="fold" open={materials.length > 0}>
  <summary>Rock and other strata<span class="faint">, {materials.length}</span></summary>
  <p class="faint">
    Soil lies on top. What lies below it, from the top down: how steep it stands, what digging it costs and what becomes
    of it.
  </p>
  <InputForm kind="strata" />
  <div class="wide">
    <RowsForm
      kind="strata"
      label="Materials"
      fresh={() => ({
        ...{ name: materials.length ? 'rock' : 'rippable', batter_h_over_v: materials.length ? 0.5 : 1 },
        ...{ cut_per_m3: materials.length ? 18 : 9, compacted_per_bank: 1.1, may_be_fill: true as unknown as string },
      })}
    />
  </div>
  {#if materials.length}
    <h3>How deep each begins</h3>
    <div class="wide">
      <RowsForm
        kind="strata.rows"
        label="Depths"
        without={['road']}
        only={here}
        choices={{ material: materials }}
        fresh={() => ({ ...stretch(), material: materials[0]!, depth_m: 2 })}
      />
    </div>
  {/if}
</details>
<details class="fold">
  <summary>Reserve<span class="faint">, {w.project?.reserve?.rows.length ?? 0} stretches</span></summary>
  <p class="faint">
    Land that the works must not leave. A batter that would is steepened to end there; what is steeper than this becomes
    a wall.
  </p>
  <InputForm kind="reserve" />
  <div class="wide">
    <RowsForm
      kind="reserve"
      label="Reserve"
      without={['road']}
      only={here}
      fresh={() => ({ ...stretch(), side: 'right', offset_m: 12 })}
    />
  </div>
  <LinesForm kind="reserve.corners" label="boundaries" one="boundary" />
</details>
<h2>What the line takes</h2>
<Quantities />
{#if w.line}<SectionTables />{/if}
<h2>Costs</h2>
<p class="faint">{worded('Cut by the bank m³; fill, haul, borrow and spoil by the compacted m³.')}</p>
<InputForm kind="cost" />

<style>
  .view {
    height: 232px;
    border-bottom: 1px solid var(--color-base-300);
    margin: 0 -10px 6px;
  }
  .wide {
    overflow-x: auto;
  }
  .wide :global(td .field) {
    min-width: 46px;
  }
  .wide :global(td .words) {
    min-width: 84px;
  }
  .wide :global(td .select) {
    min-width: 74px;
  }
  h3 {
    font-weight: 600;
    margin: 6px 0 2px;
  }
</style>
