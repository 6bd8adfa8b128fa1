<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client';
  import NumberField from '../../lib/fields/NumberField.svelte';
  import SectionView from '../../lib/section/SectionView.svelte';
  import type { Kind } from '../../lib/parse';
  import type { Workspace } from '../../lib/state/workspace.svelte';

  type Typical = Schemas['TypicalSectionFields'];
  type Cost = Schemas['Cost'];
  let { w }: { w: Workspace } = $props();
  const section = $derived(w.project?.section ?? null);
  const cost = $derived(w.project?.cost ?? null);
  const currency = $derived(cost?.currency ?? '');
  let bad = $state<string | null>(null);

  const trim = (v: number) => String(Number(v.toFixed(6)));
  const pct = (v: number) => String(Number((100 * v).toFixed(4)));
  const rows: [keyof Typical, string, Kind, string, (v: number) => string][] = [
    ['lane_width_m', 'lane width', 'length', 'm each', trim],
    ['lane_crossfall', 'lane fall', 'grade', '% outward', pct],
    ['shoulder_width_m', 'shoulder', 'length', 'm each', trim],
    ['shoulder_crossfall', 'shoulder fall', 'grade', '% outward', pct],
    ['pavement_thickness_m', 'pavement', 'length', 'm thick', trim],
    ['topsoil_depth_m', 'topsoil strip', 'length', 'm deep', trim],
    ['cut_batter_h_over_v', 'cut batter 1 :', 'number', 'V : H', trim],
    ['fill_batter_h_over_v', 'fill batter 1 :', 'number', 'V : H', trim],
    ['interval_m', 'sections each', 'length', 'm', trim],
  ];
  const prices: [Exclude<keyof Cost, 'currency'>, string, string][] = [
    ['cut_per_m3', 'cut', '/ m³'],
    ['fill_per_m3', 'fill', '/ m³'],
    ['haul_per_m3_m', 'haul', '/ (m³⋅m)'],
    ['borrow_per_m3', 'borrow', '/ m³'],
    ['spoil_per_m3', 'spoil', '/ m³'],
  ];

  function put(next: Typical): Promise<string | null> {
    return w.save((path, base) =>
      ask(api.PUT('/api/projects/{project_id}/section', { params: { path }, body: { base, section: next } })),
    );
  }
  function price(next: Cost): Promise<string | null> {
    return w.save((path, base) =>
      ask(api.PUT('/api/projects/{project_id}/cost', { params: { path }, body: { base, cost: next } })),
    );
  }
  async function currencyTyped(text: string): Promise<void> {
    const code = text.trim().toUpperCase();
    if (!cost || code === cost.currency) return;
    bad = /^[A-Z]{3}$/.test(code)
      ? await price({ ...cost, currency: code })
      : 'A currency is a code of three letters, as EUR.';
  }
</script>

<div class="view"><SectionView {w} /></div>
<h2>Typical section</h2>
{#if section}
  {#each rows as [key, label, kind, unit, show] (key)}
    <NumberField
      id={`section-${key}`}
      {label}
      value={section[key]}
      {kind}
      {unit}
      {show}
      take={(v) => put({ ...section, [key]: v! })}
    />
  {/each}
{/if}
<h2>Costs</h2>
<p class="faint">Cut by the bank m³; fill, haul, borrow and spoil by the compacted m³.</p>
{#if cost}
  {#each prices as [key, label, unit] (key)}
    <NumberField
      id={`cost-${key}`}
      {label}
      value={cost[key]}
      kind="number"
      unit={`${currency} ${unit}`}
      show={trim}
      take={(v) => price({ ...cost, [key]: v! })}
    />
  {/each}
  <NumberField
    id="cost-compacted_per_bank"
    label="compaction"
    value={cost.compacted_per_bank}
    kind="number"
    unit="m³ per bank m³"
    show={trim}
    take={(v) => price({ ...cost, compacted_per_bank: v! })}
  />
  <div class="code">
    <label for="cost-currency">currency</label>
    <input
      id="cost-currency"
      class="field"
      maxlength="3"
      value={cost.currency}
      aria-invalid={bad !== null}
      onchange={(e) => void currencyTyped(e.currentTarget.value)}
    />
    {#if bad}<p class="failure">{bad}</p>{/if}
  </div>
{/if}

<style>
  .view {
    height: 150px;
    border-bottom: 1px solid var(--color-base-300);
    margin: 0 -10px;
  }
  .code {
    display: grid;
    grid-template-columns: 108px 88px;
    gap: 0 8px;
    align-items: center;
  }
  .code p {
    grid-column: 1 / -1;
  }
</style>
