<script lang="ts">
  import type { Edit } from '../../api/client';
  import type { DimensionName } from '../../api/fields';
  import { BY_LIMITS } from '../../lib/curves';
  import { NotUnderstood } from '../../lib/parse';
  import { understand, unitOf } from '../../lib/units';
  import { useWork } from '../../lib/state/work.svelte';

  // Many IPs at once: those picked in the table, or all of a kind.
  const w = useWork();
  const { selection } = w;
  const picked = $derived(selection.picked.filter((i) => i < w.ips.length));
  type What = 'up' | 'along' | 'tilt' | 'length' | 'k' | 'limits' | 'straighten' | 'merge' | 'stretch';
  let what = $state<What>('up');
  let text = $state('');
  let from = $state('');
  let kind = $state<(typeof BY_LIMITS)[number][0]>('limits');
  let follows = $state(true);
  let refused = $state<string | null>(null);
  const last = $derived(w.ips.length - 1);
  const others = $derived(w.lines.filter((l) => l.slot !== w.selection.slot));
  // The first of the others, until another one is chosen; also where that was deleted.
  const chosen = $derived(others.some((l) => l.slot === from) ? from : (others[0]?.slot ?? ''));
  const WHATS: [What, string, DimensionName | null, string?][] = [
    ['up', 'raise by', 'length', 'below 0: lower'],
    ['along', 'shift along by', 'length'],
    ['tilt', 'tilt about the plumb line by', 'exact_grade'],
    ['length', 'curve length', 'length'],
    ['k', 'curve K', 'k'],
    ['limits', 'curves as the limits ask', null],
    ['straighten', 'straighten from first to last', null],
    ['merge', 'make one of two', null],
    ['stretch', 'copy this stretch from', null],
  ];
  const unit = $derived.by(() => {
    const [, , of, aside] = WHATS.find(([id]) => id === what)!;
    return [of && unitOf(of), aside].filter((part) => part).join(', ');
  });
  const typed = $derived(!['limits', 'straighten', 'merge', 'stretch'].includes(what));
  /** The limits are asked for all curves where none is picked. */
  const all = $derived(what === 'limits' && !picked.length);

  const inner = () => w.ips.slice(1, -1).map((_, i) => ({ ip: i + 1 }));

  function choose(kind: string): void {
    const between = w.ips.map((ip, i) => ({ ip, i })).slice(1, -1);
    const of = {
      all: () => between,
      crests: () => between.filter(({ ip }) => ip.change_of_grade < 0),
      sags: () => between.filter(({ ip }) => ip.change_of_grade > 0),
      failing: () => between.filter(({ i }) => w.failingIps.has(i)),
    }[kind];
    selection.picked = of?.().map(({ i }) => i) ?? [];
  }

  function edit(): Edit {
    const ips = picked.map((ip) => ({ ip }));
    const move = { what: 'move_many' as const, ips, along_m: 0, up_m: 0, tilt: 0, about_m: 0, slide: false };
    const [first, final] = [Math.min(...picked), Math.max(...picked)];
    switch (what) {
      case 'up':
        return { ...move, up_m: understand('level', text) as number };
      case 'along':
        return { ...move, along_m: understand('plan', text) as number };
      case 'tilt':
        return { ...move, tilt: understand('exact_grade', text) as number, about_m: w.selection.plumb };
      case 'length':
        return {
          what: 'curve_many',
          ips,
          curve_length_m: understand('length', text) as number,
          k_m_per_pct: null,
        };
      case 'k':
        return { what: 'curve_many', ips, curve_length_m: null, k_m_per_pct: understand('k', text) as number };
      case 'limits':
        return { what: 'curves_by_limits', ips: all ? inner() : ips, kind, follow: follows };
      case 'straighten':
        return { what: 'straighten', ip: first, to: final };
      case 'merge':
        return { what: 'merge', ip: first };
      case 'stretch':
        return {
          what: 'stretch',
          line: chosen,
          from_m: w.ips[first]!.chainage_m,
          to_m: w.ips[final]!.chainage_m,
        };
    }
  }

  async function go(): Promise<void> {
    try {
      refused = await w.apply(edit());
      if (!refused && ['straighten', 'merge', 'stretch'].includes(what)) selection.picked = [];
    } catch (error) {
      refused = error instanceof NotUnderstood ? error.message : String(error);
    }
  }
</script>

<div class="many" role="group" aria-label="Many IPs at once">
  <b>{picked.length ? `${picked.length} of ${last + 1} picked` : 'None picked'}</b>
  <select
    class="select select-xs"
    aria-label="Pick IPs"
    value=""
    onchange={(e) => {
      choose(e.currentTarget.value);
      e.currentTarget.value = '';
    }}
  >
    <option value="" disabled>pick…</option>
    <option value="all">all between the ends</option>
    <option value="crests">all crests</option>
    <option value="sags">all sags</option>
    <option value="failing">all that fail</option>
    <option value="none">none</option>
  </select>
  <label title="Show only rows that fail">
    <input type="checkbox" class="checkbox checkbox-xs" bind:checked={selection.onlyFailing} />failing only
  </label>
  <select class="select select-xs" aria-label="What to do with them" bind:value={what}>
    {#each WHATS as [id, says] (id)}
      <option value={id} disabled={id === 'stretch' && !others.length}>{says}</option>
    {/each}
  </select>
  {#if typed}
    <input
      class="field num"
      aria-label="How much"
      autocomplete="off"
      bind:value={text}
      onkeydown={(e) => {
        if (e.key === 'Enter') void go();
        e.stopPropagation();
      }}
    /><span class="faint">{unit}</span>
  {:else if what === 'limits'}
    <select class="select select-xs" aria-label="What of the limits" bind:value={kind}>
      {#each BY_LIMITS as [id, says] (id)}<option value={id}>{says}</option>{/each}
    </select>
    <label title="They go on to ask what the limits ask, when speed, grades or ranges change"
      ><input type="checkbox" class="checkbox checkbox-xs" bind:checked={follows} />and follow them</label
    >
  {:else if what === 'stretch'}
    <select
      class="select select-xs"
      aria-label="Line to copy from"
      value={chosen}
      onchange={(e) => (from = e.currentTarget.value)}
    >
      {#each others as line (line.slot)}<option value={line.slot}>{line.name}</option>{/each}
    </select>
  {/if}
  <button
    class="btn btn-xs"
    disabled={all ? last < 2 : !picked.length || (typed && !text.trim())}
    onclick={() => void go()}>{all ? 'Do it for all' : 'Do it'}</button
  >
  {#if refused}<span class="failure refused" role="alert">{refused}</span>{/if}
</div>

<style>
  .many {
    display: flex;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
  }
  /* Beside what was tried: over the table, which begins below. */
  .refused {
    position: absolute;
    left: 8px;
    right: 8px;
    top: 26px;
    z-index: 3;
    padding: 4px 8px;
    white-space: normal;
    background: var(--color-base-100);
    border-bottom: 1px solid var(--color-base-300);
  }
  label {
    display: flex;
    align-items: center;
    gap: 4px;
    min-height: 24px;
    font-size: 12px;
    cursor: pointer;
  }
  .select {
    width: auto;
    height: 24px;
    min-height: 24px;
    font-size: 12px;
  }
  .field {
    width: 64px;
    height: 24px;
  }
</style>
