<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { api, ask, type Schemas } from '../../api/client';
  import InputForm from '../../lib/fields/InputForm.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { show, told } from '../../lib/units';
  import Findings from '../line/Findings.svelte';
  import Ranges from './Ranges.svelte';

  type Limits = Schemas['LimitSet'];
  const w = useWork();
  const limits = $derived(w.project?.limits ?? null);
  let offered = $state.raw<Limits | null>(null);
  let refused = $state<string | null>(null);
  const tie = (name: string) => name.startsWith('start_') || name.startsWith('end_');
  const SIGHT = ['reaction_s', 'deceleration_m_s2', 'eye_m', 'object_m', 'stopping_sight'];

  /** Another design speed has other limits: they are offered, not taken. */
  async function taken(name: string, value: unknown): Promise<void> {
    if (name !== 'design_speed_kmh' || typeof value !== 'number') return;
    try {
      offered = await ask(api.GET('/api/limits/defaults', { params: { query: { design_speed_kmh: value } } }));
    } catch (error) {
      w.notices.tell(error);
    }
  }

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

  async function takeOffered(): Promise<void> {
    const take = offered;
    if (!take) return;
    refused = await w.save({
      what: `the limits of ${told('speed', take.design_speed_kmh)}`,
      send: ({ path, base, token, project }) => {
        // The tie-ins, and how sight is looked at, are the project's own and stay.
        const own = Object.entries(project.limits!).filter(([name]) => tie(name) || SIGHT.includes(name));
        const next = { ...take, ...Object.fromEntries(own) } as Limits;
        return ask(
          api.PUT('/api/projects/{project_id}/limits', { params: { path }, body: { base, token, limits: next } }),
        );
      },
    });
    if (refused === null) offered = null;
  }
</script>

<h2>Limits for the whole length</h2>
<InputForm kind="limits" only={(name) => name === 'design_speed_kmh'} ontaken={(n, v) => void taken(n, v)} />
{#if offered && limits}
  <div class="offer">
    For {told('speed', limits.design_speed_kmh)} the printed table gives K {show('k', offered.min_crest_k_m_per_pct)} for
    crests, K {show('k', offered.min_sag_k_m_per_pct)}
    for sags (stopping sight on the level), and practice a steepest grade of {show('fall', offered.max_grade)} %.
    <div class="buttons">
      <button class="btn btn-sm btn-primary" onclick={() => void takeOffered()}>Take these limits</button>
      <button class="btn btn-sm" onclick={() => (offered = null)}>Keep mine</button>
    </div>
    {#if refused}<p class="failure">{refused}</p>{/if}
  </div>
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
  .offer {
    border-left: 4px solid var(--ink-caution);
    padding: 6px 8px;
    margin: 6px 0;
  }
  .buttons {
    display: flex;
    gap: 6px;
    margin-top: 6px;
  }
</style>
