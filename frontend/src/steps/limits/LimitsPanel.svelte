<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { api, ask } from '../../api/client';
  import { INPUTS } from '../../api/fields';
  import { percent } from '../../lib/format';
  import TableView from '../../lib/TableView.svelte';
  import InputForm from '../../lib/fields/InputForm.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import Findings from '../line/Findings.svelte';
  import Controls from './Controls.svelte';
  import Entered from './Entered.svelte';
  import Ranges from './Ranges.svelte';
  import Services from './Services.svelte';
  import Sources from './Sources.svelte';
  import WorstSight from './WorstSight.svelte';
  import StartingValues from './StartingValues.svelte';

  const w = useWork();
  const limits = $derived(w.project?.limits ?? null);
  let offering = $state(false);
  const tie = (name: string) => name.startsWith('start_') || name.startsWith('end_');
  const USUAL = [
    ...['max_grade', 'min_grade', 'min_crest_k_m_per_pct', 'min_sag_k_m_per_pct', 'min_curve_length_m'],
    'min_ip_spacing_m',
  ];
  const PASSING = ['passing_sight_m', 'shortest_passing_m', 'least_passing_share'];
  const FOLDS = [
    {
      title: 'More of grades',
      names: ['max_fall', 'min_cut_grade', 'min_kerb_grade', 'steep_grade', 'longest_steep_m'],
    },
    {
      title: 'More of curves and tangents',
      names: [
        ...['crest_k_intermediate', 'crest_k_passing', 'crest_k_appearance', 'sag_k_comfort', 'sag_k_appearance'],
        ...['most_drained_k_m_per_pct', 'most_kink', 'min_tangent_m', 'longest_tangent_m'],
      ],
    },
    { title: 'Depths', names: ['most_cut_m', 'most_fill_m'] },
    { title: 'Bends', names: ['bend_speed', 'bend_transition', 'bend_width'] },
    {
      title: 'Sight along the line',
      names: [
        ...['stopping_form', 'reaction_s', 'deceleration_m_s2', 'eye_m', 'object_m', 'stopping_sight'],
        ...['intermediate_sight', 'headlight_sight', 'headlight_m', 'headlight_deg', 'drive_on'],
      ],
      says:
        'K of crests and sags stands above for level road. Along the line each place looks ahead and back, and ' +
        'stopping takes the grades on its way into account.',
    },
  ];
  /** How many of these are not left free, where they may be. */
  const set = (names: string[]) =>
    names.filter((name) => {
      const field = INPUTS.limits.find((f) => f.name === name);
      return field?.optional && limits?.[name as keyof typeof limits] != null;
    }).length;
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
    return w.save({
      what: 'the tie-in',
      send: ({ path, base, token, project }) => {
        const next = { ...project.limits!, [`${end}_level_m`]: round(level, 3), [`${end}_grade`]: round(slope, 5) };
        return ask(
          api.PUT('/api/projects/{project_id}/limits', { params: { path }, body: { base, token, limits: next } }),
        );
      },
    });
  }
</script>

<Entered />
{#if w.line}
  <a class="btn btn-xs" href={`#/projects/${w.project?.id}/summary/${w.line.slot}`}>Summary for a checker</a>
{/if}
<Findings most={4} />
<WorstSight />
<h2>Limits for the whole length</h2>
<InputForm kind="limits" only={(name) => name === 'design_speed_kmh'} ontaken={() => (offering = true)} />
{#if offering}
  <StartingValues onclose={() => (offering = false)} />
{:else}
  <button class="btn btn-xs" onclick={() => (offering = true)}>Starting values of a standard…</button>
{/if}
<InputForm kind="limits" only={(name) => USUAL.includes(name)} />
{#each FOLDS as { title, names, says } (title)}
  <details class="fold">
    <summary
      >{title}{#if limits && set(names)}<span class="faint">, {set(names)} set</span>{/if}</summary
    >
    <InputForm kind="limits" only={(name) => names.includes(name)} />
    {#if says}<p class="faint">{says}</p>{/if}
  </details>
{/each}
<details class="fold" bind:open={marking}>
  <summary>Passing and markings</summary>
  <InputForm kind="limits" only={(name) => PASSING.includes(name)} />
  {#if marking}
    {#if w.shownFigures?.passing}
      {@const { ahead, back } = w.shownFigures.passing}
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
<Services />
<h2>Tie-ins to the existing roads</h2>
<p class="faint">An empty field leaves that end free.</p>
<InputForm kind="limits" only={tie} />
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
