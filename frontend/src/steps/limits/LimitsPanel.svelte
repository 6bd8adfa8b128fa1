<script lang="ts">
  import { changeInput } from '../../lib/state/rows';
  import { worded } from '../../lib/system.svelte';
  import { INPUTS } from '../../api/fields';
  import { percent } from '../../lib/format';
  import TableView from '../../lib/TableView.svelte';
  import InputForm from '../../lib/fields/InputForm.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import Findings from '../line/Findings.svelte';
  import Controls from './Controls.svelte';
  import Entered from './Entered.svelte';
  import Ranges from './Ranges.svelte';
  import Utilities from './Utilities.svelte';
  import Sources from './Sources.svelte';
  import WorstSight from './WorstSight.svelte';
  import StartingValues from './StartingValues.svelte';

  const w = useWork();
  const limits = $derived(w.project?.limits ?? null);
  let offering = $state(false);
  /** The forms that their fields name, in the order of their fields; some stand by themselves below. */
  const ALONE = ['Design speed', 'Usual limits', 'Passing and markings', 'Tie-ins'];
  const FOLDS = [...new Set(INPUTS.limits.map((f) => f.group))].filter((group) => !ALONE.includes(group));
  const SAYS: Record<string, string> = {
    'Sight along the line':
      'K of crests and sags stands above for level road. Along the line each place looks ahead and back, and ' +
      'stopping takes the grades on its way into account.',
  };
  /** How many of these are not left free, where they may be. */
  const set = (group: string) =>
    INPUTS.limits.filter((f) => f.group === group && f.optional && limits?.[f.name] != null).length;
  let marking = $state(false);
  $effect(() => {
    w.selection.want('markings', marking ? ['passing'] : []);
    return () => w.selection.want('markings', []);
  });
  let water = $state(false);
  let sourced = $state(false);

  const ENDS = ['start', 'end'] as const;
  /** A tie-in that takes level and grade from the ground there. */
  function fromGround(end: 'start' | 'end'): Promise<string | null> {
    const g = w.still!.ground;
    const [level, slope] = end === 'start' ? [g.start_level_m, g.start_grade] : [g.end_level_m, g.end_grade];
    const round = (v: number | null, digits: number) => (v === null ? null : Number(v.toFixed(digits)));
    const taken = { [`${end}_level_m`]: round(level, 3), [`${end}_grade`]: round(slope, 5) };
    return changeInput(w, 'limits', 'the tie-in', (now) => ({ ...now, ...taken }));
  }
</script>

<Entered />
{#if w.line}
  <a class="btn btn-xs" href={`#/projects/${w.project?.id}/summary/${w.line.slot}`}>Summary for a checker</a>
{/if}
<Findings most={4} />
<WorstSight />
<h2>Limits for the whole length</h2>
<InputForm kind="limits" group="Design speed" ontaken={() => (offering = true)} />
{#if offering}
  <StartingValues onclose={() => (offering = false)} />
{:else}
  <button class="btn btn-xs" onclick={() => (offering = true)}>Starting values of a standard…</button>
{/if}
<InputForm kind="limits" group="Usual limits" />
{#each FOLDS as group (group)}
  <details class="fold">
    <summary
      >{group}{#if limits && set(group)}<span class="faint">, {set(group)} set</span>{/if}</summary
    >
    <InputForm kind="limits" {group} />
    {#if SAYS[group]}<p class="faint">{SAYS[group]}</p>{/if}
  </details>
{/each}
<details class="fold" bind:open={marking}>
  <summary>Passing and markings</summary>
  <InputForm kind="limits" group="Passing and markings" />
  {#if marking}
    {#if w.shownFigures?.products.passing}
      {@const { ahead, back } = w.shownFigures.products.passing}
      <p>Passing is possible on {percent(ahead, 0)} of the length ahead, and on {percent(back, 0)} coming back.</p>
    {/if}
    <TableView table="markings" wish={{ slot: w.selection.slot ?? undefined }} />
  {/if}
</details>
<details class="fold" bind:open={water}>
  <summary>High and low points, flat stretches</summary>
  {#if water}<TableView table="water" wish={{ slot: w.selection.slot ?? undefined }} />{/if}
</details>
<details class="fold">
  <summary>Trucks</summary>
  <InputForm kind="truck" />
</details>
<details class="fold" bind:open={sourced}>
  <summary>Sources and reasons</summary>
  {#if sourced}<Sources />{/if}
</details>
<Ranges />
<Controls />
<Utilities />
<h2>Tie-ins to the existing roads</h2>
<p class="faint">An empty field leaves that end free.</p>
<InputForm kind="limits" group="Tie-ins" />
{#if w.still && limits}
  <div class="buttons">
    {#each ENDS as end (end)}
      <button
        class="btn btn-xs"
        title={worded(`Level and grade of the ground at the ${end}`)}
        onclick={() => w.act(fromGround(end))}>{end === 'start' ? 'Start' : 'End'} from the ground</button
      >
    {/each}
  </div>
{/if}

<style>
  .buttons {
    display: flex;
    gap: 6px;
    margin-top: 6px;
  }
</style>
