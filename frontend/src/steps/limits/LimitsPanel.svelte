<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client';
  import NumberField from '../../lib/fields/NumberField.svelte';
  import { fixed, signed } from '../../lib/format';
  import type { Kind } from '../../lib/parse';
  import type { Workspace } from '../../lib/state/workspace.svelte';

  type Limits = Schemas['Limits'];
  let { w }: { w: Workspace } = $props();
  const limits = $derived(w.project?.limits ?? null);
  let offered = $state.raw<Limits | null>(null);

  const trim = (v: number) => String(Number(v.toFixed(3)));
  const pct = (v: number) => String(Number((100 * v).toFixed(4)));
  const rows: [keyof Limits, string, Kind, string, (v: number) => string][] = [
    ['max_grade', 'steepest grade', 'grade', '%', pct],
    ['min_grade', 'flattest grade', 'grade', '%, of tangents', pct],
    ['min_crest_k_m_per_pct', 'K of crests', 'number', 'm/% at least', trim],
    ['min_sag_k_m_per_pct', 'K of sags', 'number', 'm/% at least', trim],
    ['min_curve_length_m', 'shortest curve', 'length', 'm', trim],
    ['min_ip_spacing_m', 'IP spacing', 'length', 'm at least', trim],
  ];
  const ties: [keyof Limits, string, Kind, string, (v: number) => string][] = [
    ['start_level_m', 'start level', 'length', 'm', (v) => fixed(v, 3)],
    ['start_grade', 'start grade', 'grade', '%', (v) => signed(100 * v, 3)],
    ['end_level_m', 'end level', 'length', 'm', (v) => fixed(v, 3)],
    ['end_grade', 'end grade', 'grade', '%', (v) => signed(100 * v, 3)],
  ];

  function put(next: Limits): Promise<string | null> {
    return w.save((path, base) =>
      ask(api.PUT('/api/projects/{project_id}/limits', { params: { path }, body: { base, limits: next } })),
    );
  }

  async function speed(v: number): Promise<string | null> {
    if (!limits) return null;
    try {
      offered = await ask(api.GET('/api/limits/defaults', { params: { query: { design_speed_kmh: v } } }));
    } catch (error) {
      return error instanceof Error ? error.message : String(error);
    }
    return put({ ...limits, design_speed_kmh: v });
  }

  async function takeOffered(): Promise<void> {
    if (!limits || !offered) return;
    const { start_level_m, start_grade, end_level_m, end_grade } = limits;
    await put({ ...offered, start_level_m, start_grade, end_level_m, end_grade });
    offered = null;
  }
</script>

<h2>Limits for the whole length</h2>
{#if limits}
  <NumberField
    id="limit-speed"
    label="design speed"
    value={limits.design_speed_kmh}
    kind="number"
    unit="km/h"
    show={trim}
    take={(v) => speed(v!)}
  />
  {#if offered}
    <div class="offer">
      For {limits.design_speed_kmh} km/h the printed table gives K {offered.min_crest_k_m_per_pct} for crests, K {offered.min_sag_k_m_per_pct}
      for sags (stopping sight on the level), and practice a steepest grade of {pct(offered.max_grade)} %.
      <button class="btn btn-sm btn-primary" onclick={() => void takeOffered()}>Take these limits</button>
      <button class="btn btn-sm" onclick={() => (offered = null)}>Keep mine</button>
    </div>
  {/if}
  {#each rows as [key, label, kind, unit, show] (key)}
    <NumberField
      id={`limit-${key}`}
      {label}
      value={limits[key]}
      {kind}
      {unit}
      {show}
      take={(v) => put({ ...limits, [key]: v! })}
    />
  {/each}
  <h2>Tie-ins to the existing roads</h2>
  <p class="faint">An empty field leaves that end free.</p>
  {#each ties as [key, label, kind, unit, show] (key)}
    <NumberField
      id={`limit-${key}`}
      {label}
      value={limits[key]}
      {kind}
      {unit}
      {show}
      optional
      take={(v) => put({ ...limits, [key]: v })}
    />
  {/each}
{/if}
<h2>What fails</h2>
{#each w.findings as u (`${u.check} ${u.ip} ${u.from_chainage_m}`)}
  <div class="failure-box"><b>{u.name}</b><br />{u.sentence}</div>
{:else}
  <p>Nothing fails on “{w.line?.name ?? ''}”.</p>
{/each}

<style>
  .offer {
    border-left: 4px solid var(--ink-caution);
    padding: 6px 8px;
    margin: 6px 0;
  }
  .failure-box {
    margin: 4px 0;
  }
</style>
