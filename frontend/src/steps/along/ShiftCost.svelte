<script lang="ts">
  import Field from '../../lib/fields/Field.svelte';
  import { signedWhole } from '../../lib/format';
  import { shiftCost } from '../../lib/state/asked';
  import { useWork } from '../../lib/state/work.svelte';
  import { told, type Value } from '../../lib/units';

  // What a stretch of the road costs more, or less, further aside: the haul planned anew, beside what prices add up to.
  const w = useWork();
  let from_m = $state(0);
  let to_m = $state(0);
  let aside_m = $state(0.5);
  let side = $state<'left' | 'right'>('left');
  let found = $state.raw<{ told: number; planned: number; open_m: number; of: string } | null>(null);
  let refused = $state<string | null>(null);
  const currency = $derived(w.project?.cost?.currency ?? '');
  const key = $derived(`${w.project?.revision} ${w.selection.slot} ${from_m} ${to_m} ${aside_m} ${side}`);
  $effect(() => {
    if (to_m) return;
    const [a, b] = w.selection.axes.full;
    [from_m, to_m] = [Math.round(a), Math.round(b)];
  });
  const taken = (put: (v: number) => void) => (v: Value | null) => {
    if (typeof v !== 'number') return 'A number is needed.';
    put(v);
    return null;
  };

  async function ask(): Promise<void> {
    if (!w.project || !w.line) return;
    const of = key;
    refused = null;
    try {
      const aside = side === 'left' ? -aside_m : aside_m;
      const answer = await shiftCost(w.project.id, w.line.slot, w.project.revision, from_m, to_m, aside);
      found = { ...answer, of };
    } catch (error) {
      refused = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<Field id="shift-from" label="from" value={from_m} dimension="chainage" take={taken((v) => (from_m = v))} />
<Field id="shift-to" label="to" value={to_m} dimension="chainage" take={taken((v) => (to_m = v))} />
<Field id="shift-by" label="by" value={aside_m} dimension="size" take={taken((v) => (aside_m = v))} />
<div class="row">
  <select class="select select-xs" bind:value={side} aria-label="To which side">
    <option value="left">to the left</option>
    <option value="right">to the right</option>
  </select>
  <button class="btn btn-xs" onclick={() => void ask()}>What it costs</button>
</div>
{#if refused}<p class="failure" role="alert">{refused}</p>
{:else if found}
  <p class="num" class:faint={found.of !== key} role="status">
    <b>{signedWhole(found.planned)} {currency}</b>, planned anew; prices of its sections add up to {signedWhole(
      found.told,
    )}.{#if found.open_m > 0}
      {told('about', found.open_m)} of it have no ground there.{/if}{#if found.of !== key}
      Of what was asked before.{/if}
  </p>
{/if}

<style>
  .row {
    display: flex;
    gap: 8px;
    margin: 4px 0;
  }
  .row .select {
    width: auto;
  }
</style>
