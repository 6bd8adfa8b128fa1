<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { api, ask } from '../../api/client';
  import InputForm from '../../lib/fields/InputForm.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import Findings from '../line/Findings.svelte';
  import Ranges from './Ranges.svelte';
  import StartingValues from './StartingValues.svelte';

  const w = useWork();
  const limits = $derived(w.project?.limits ?? null);
  let offering = $state(false);
  const tie = (name: string) => name.startsWith('start_') || name.startsWith('end_');
  const SIGHT = ['reaction_s', 'deceleration_m_s2', 'eye_m', 'object_m', 'stopping_sight'];

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

<h2>Limits for the whole length</h2>
<InputForm kind="limits" only={(name) => name === 'design_speed_kmh'} ontaken={() => (offering = true)} />
{#if offering}
  <StartingValues onclose={() => (offering = false)} />
{:else}
  <button class="btn btn-xs" onclick={() => (offering = true)}>Starting values of a standard…</button>
{/if}
<InputForm kind="limits" only={(name) => name !== 'design_speed_kmh' && !tie(name) && !SIGHT.includes(name)} />
<details class="fold">
  <summary>Sight along the line</summary>
  <InputForm kind="limits" only={(name) => SIGHT.includes(name)} />
  <p class="faint">
    K of crests and sags stands above for level road. Along the line each place looks ahead and back, and stopping takes
    the grades on its way into account.
  </p>
</details>
<details class="fold">
  <summary>Trucks</summary>
  <InputForm kind="truck" />
</details>
<Ranges />
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
<h2>What fails</h2>
<Findings />

<style>
  .buttons {
    display: flex;
    gap: 6px;
    margin-top: 6px;
  }
</style>
