<script lang="ts">
  import InputForm from '../../lib/fields/InputForm.svelte';
  import LinesForm from '../../lib/fields/LinesForm.svelte';
  import RowsForm from '../../lib/fields/RowsForm.svelte';
  import SectionView from '../../lib/section/SectionView.svelte';
  import { freshChange, NO_SECTION, sectionNames } from '../../lib/state/along';
  import { rowsOf } from '../../lib/state/rows';
  import { useWork } from '../../lib/state/work.svelte';
  import { brief } from '../../lib/units';
  import TableView from '../../lib/TableView.svelte';
  import ShiftCost from './ShiftCost.svelte';

  // What is built where along the road, and how it leans and widens in its bends.
  const w = useWork();
  const road = $derived(w.road?.slot ?? 'centreline');
  const here = (row: Record<string, unknown>) => row.road === road;
  const names = $derived(sectionNames(w));
  const points = $derived(['', ...new Set((w.project?.sections ?? []).flatMap((s) => s.elements.map((e) => e.name)))]);
  const lines = $derived(['', ...new Set(rowsOf<{ name: string }>('along.corners', w.project).map((c) => c.name))]);
  const along = $derived(w.project?.along);
  const leans = $derived(w.project?.superelevation);
  const works = $derived(w.project?.works);

  /** A tenth of what is seen, about the plumb line. */
  function stretch(): { from_m: number; to_m: number } {
    const { axes, plumb } = w.selection;
    const half = Math.max((axes.domain[1] - axes.domain[0]) / 20, 10);
    const [from_m, to_m] = [Math.max(plumb - half, axes.full[0]), Math.min(plumb + half, axes.full[1])].map(Math.round);
    return { from_m: from_m!, to_m: to_m! };
  }
  const other = $derived((w.project?.sections ?? []).find((s) => s.slot !== works?.section)?.slot ?? NO_SECTION);
  let table = $state(false);
</script>

<div class="view"><SectionView /></div>
<h2>Sections by stretch</h2>
<p class="faint">
  Elsewhere “{names[works?.section ?? ''] ?? ''}” is built. Of stretches that overlap the last holds; one without a
  section builds nothing.
</p>
<div class="wide">
  <RowsForm
    kind="along"
    label="Sections"
    without={['road']}
    first={['section']}
    only={here}
    choices={{ section: Object.keys(names) }}
    names={{ section: names }}
    fresh={() => ({ ...stretch(), taper_in_m: 20, taper_out_m: 20, section: other, road })}
  />
</div>
<h2>Added lanes</h2>
<div class="wide">
  <RowsForm
    kind="along.lanes"
    label="Lanes"
    without={['road']}
    first={['side', 'width_m']}
    only={here}
    fresh={() => ({
      ...{ ...stretch(), taper_in_m: 60, taper_out_m: 60, side: 'right' },
      ...{ name: 'added lane', width_m: 3, reason: '', road },
    })}
  />
</div>
<h2>Changes and exceptions</h2>
<p class="faint">
  One element, or the batters of a side, with other sizes along a stretch. With a reason it is an exception. At one
  section its ends are alike, with tapers to both sides.
</p>
<div class="wide">
  <RowsForm
    kind="along.changes"
    label="Changes"
    without={['road']}
    first={['side', 'point']}
    only={here}
    choices={{ point: points, led_by: lines }}
    names={{ point: { '': 'batters' }, led_by: { '': 'no line' } }}
    fresh={() => ({ ...freshChange(road, stretch().from_m, stretch().to_m), cut_h_over_v: 1 })}
  />
</div>
<details class="fold">
  <summary>Lines that edges are led by<span class="faint">, {lines.length - 1}</span></summary>
  <p class="faint">A line from a file; a change above then says which outer point lies on it.</p>
  <LinesForm kind="along.corners" label="lines" one="edge" />
</details>
<h2>Superelevation and widening</h2>
{#if leans}
  <p class="faint">
    How much each bend is banked follows from its speed, by the rules in the centreline's step ({w.project?.bends
      ?.lanes ?? 2} lanes, {w.project?.bends?.vehicle ?? ''}).
  </p>
  <InputForm kind="superelevation" />
{/if}
<details class="fold" open={(leans?.rows.length ?? 0) > 0}>
  <summary>Falls of your own<span class="faint">, {leans?.rows.length ?? 0}</span></summary>
  <p class="faint">They hold along their stretch whatever follows from the bends.</p>
  <div class="wide">
    <RowsForm
      kind="superelevation"
      label="Falls"
      without={['road']}
      only={here}
      fresh={() => ({
        ...{ ...stretch(), left_from: 0.03, left_to: 0.03, right_from: 0.03, right_to: 0.03 },
        ...{ reason: '', road },
      })}
    />
  </div>
</details>
<details class="fold" bind:open={table}>
  <summary>Superelevation as a table</summary>
  {#if table}<TableView table="superelevation" />{/if}
</details>
{#if w.line}
  <details class="fold">
    <summary>A stretch shifted sideways</summary>
    <ShiftCost />
  </details>
{/if}
<h2>Where sections are</h2>
{#if works}
  <p class="faint">
    Worked out at each {brief('size', works.interval_m)}, at ends of elements, stretches and controls, and wherever the
    section turns; reported as below.
  </p>
  <InputForm kind="works" without={['section', 'survey', 'batters_to', 'topsoil_depth_m', 'topsoil_back_m']} />
{/if}
<details class="fold">
  <summary>More sections in stretches<span class="faint">, {works?.intervals.length ?? 0}</span></summary>
  <div class="wide">
    <RowsForm
      kind="works.intervals"
      label="Intervals"
      without={['road']}
      only={here}
      fresh={() => ({ ...stretch(), interval_m: 5, road })}
    />
  </div>
</details>
<details class="fold">
  <summary>Sections of your own<span class="faint">, {works?.singles.length ?? 0}</span></summary>
  <div class="wide">
    <RowsForm
      kind="works.singles"
      label="Own sections"
      without={['road']}
      only={here}
      fresh={() => ({ at_m: Math.round(w.selection.plumb * 1000) / 1000, words: '', road })}
    />
  </div>
</details>
{#if along && along.changes.some((c) => c.reason)}
  <details class="fold">
    <summary>Exceptions as a table</summary>
    <TableView table="exceptions" />
  </details>
{/if}

<style>
  .view {
    height: 190px;
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
</style>
