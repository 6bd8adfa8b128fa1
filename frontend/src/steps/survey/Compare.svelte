<script lang="ts">
  import { figure, told } from '../../lib/units';
  import { deepest } from '../../lib/map/difference';
  import { useWork } from '../../lib/state/work.svelte';

  // The ground held against another: one survey alone, or the ground as it was.
  const w = useWork();
  const p = $derived(w.project);
  const compared = $derived(w.land.compared);
  const of = $derived(compared?.of ?? null);
  let problem = $state<string | null>(null);
  const chosen = $derived(compared ? `${compared.against.revision} ${compared.against.slot ?? ''}` : '');

  async function choose(value: string): Promise<void> {
    problem = null;
    const [revision, slot] = value.split(' ');
    try {
      await w.land.compare(value ? { revision: Number(revision), slot: slot || null } : null);
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }
  const place = (at: number[] | null) => (at ? `E ${figure('plan', at[0]!, 1)}, N ${figure('plan', at[1]!, 1)}` : '');
</script>

{#if p}
  <label class="compare">
    Compare it with
    <select
      class="select select-sm"
      aria-label="Compare the ground with"
      value={chosen}
      onchange={(e) => void choose(e.currentTarget.value)}
    >
      <option value="">nothing</option>
      {#if p.surveys.length > 1 || p.outline?.rows.length || w.land.facts?.of.changes.length}
        {#each p.surveys as s (s.slot)}<option value={`${p.revision} ${s.slot}`}>{s.file_name} alone</option>{/each}
      {/if}
      {#each p.history.newest.filter((r) => r.number < p.revision && r.number > 1) as r (r.number)}
        <option value={`${r.number} `}>as of “{r.label}”</option>
      {/each}
    </select>
  </label>
  {#if problem}<p class="failure" role="alert">{problem}</p>{/if}
  {#if compared && !of}<p role="status">working out what lies between…</p>{/if}
  {#if of}
    <dl class="num facts" aria-label="What lies between the grounds">
      <dt>higher now by</dt>
      <dd data-item="raised">{told('volume', of.raised_m3)}</dd>
      <dt>on</dt>
      <dd>{told('area', of.raised_area_m2)}</dd>
      <dt>lower now by</dt>
      <dd data-item="lowered">{told('volume', of.lowered_m3)}</dd>
      <dt>on</dt>
      <dd>{told('area', of.lowered_area_m2)}</dd>
      <dt>both have ground on</dt>
      <dd>{told('area', of.common_area_m2)}</dd>
    </dl>
    {#if of.above_at}<p>Highest above: {told('level', of.most_above_m)} at {place(of.above_at)}</p>{/if}
    {#if of.below_at}<p>Farthest below: {told('level', -of.most_below_m)} at {place(of.below_at)}</p>{/if}
    <p class="faint">
      <i class="up"></i> higher now <i class="down"></i> lower now; deepest from {told('size', deepest(of))} on
    </p>
  {/if}
{/if}

<style>
  .compare {
    display: grid;
    gap: 4px;
    margin: 6px 0;
  }
  i {
    display: inline-block;
    width: 14px;
    height: 10px;
    border: 1px solid var(--color-base-300);
  }
  .up {
    background: var(--ink-fill);
  }
  .down {
    background: var(--ink-cut);
  }
</style>
