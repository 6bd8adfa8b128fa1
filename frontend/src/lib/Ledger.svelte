<script lang="ts">
  import type { DimensionName } from '../api/fields';
  import { worded } from './system.svelte';
  import { change, figure, told, unitOf } from './units';
  import { chainage, signedWhole, whole } from './format';
  import { used } from './used';
  import { useWork } from './state/work.svelte';

  const w = useWork();
  const now = $derived(w.ledger);
  const was = $derived(w.trial.draft ? w.trial.before : null);
  // Figures of another line than the one on screen are on their way; in a drag they follow within a frame or two.
  const behind = $derived(!w.fresh && !w.trial.draft);
  const currency = $derived(w.project?.cost?.currency ?? '');
  const items = $derived(
    now
      ? ([
          ['cost', currency, now.cost, was?.cost, null],
          ['cut', unitOf('volume'), now.cut_m3, was?.cut_m3, 'volume'],
          ['fill', unitOf('volume'), now.fill_m3, was?.fill_m3, 'volume'],
          ['haul', unitOf('haul'), now.haul_m3_m, was?.haul_m3_m, 'haul'],
          ['net', unitOf('volume'), now.net_m3, was?.net_m3, 'volume'],
          ['topsoil', unitOf('volume'), now.topsoil_m3, was?.topsoil_m3, 'volume'],
          ['footprint', unitOf('land'), now.footprint_m2, was?.footprint_m2, 'land'],
        ] as [string, string, number, number | null | undefined, DimensionName | null][])
      : [],
  );
  const worst = $derived(now?.worst_use ?? null);

  /** Where a surplus goes, and where what lacks comes from. */
  function balance({ borrow_m3, spoil_m3 }: { borrow_m3: number; spoil_m3: number }): string {
    const parts = [
      ['borrow', borrow_m3],
      ['spoil', spoil_m3],
    ] as const;
    const said = parts.flatMap(([name, v]) => (v >= 0.5 ? [`${name} ${figure('volume', v)}`] : []));
    return said.join(', ') || 'balanced';
  }

  /** What stands under a figure that is not being changed. */
  function beside(key: string, of: NonNullable<typeof now>): string {
    if (key === 'net') return balance(of);
    const none = key === 'footprint' && of.unbuilt_m > 0.5;
    return none ? `${told('about', of.unbuilt_m)} without a section` : '';
  }

  function changed(by: number, dimension: DimensionName | null): string {
    const text = dimension ? change(dimension, by) : signedWhole(by);
    return /[1-9]/.test(text) ? text : 'no change';
  }
</script>

<div class="ledger" class:behind role="status" aria-label="Ledger" aria-live="off">
  {#each items as [key, unit, value, before, dimension] (key)}
    <div class="item" data-item={key} data-value={value}>
      <span class="faint">{key}, {unit}</span>
      <b class="num"
        >{key === 'net'
          ? change('volume', value)
          : dimension
            ? figure(dimension, value, dimension === 'land' ? 2 : undefined)
            : whole(value)}</b
      >
      <span class="delta num"
        >{typeof before === 'number' ? changed(value - before, dimension) : beside(key, now!)}</span
      >
    </div>
  {/each}
  {#if now}
    <div class="item" data-item="worst" class:failure={now.failures > 0}>
      <span class={now.failures ? '' : 'faint'}>{now.failures ? 'limits' : 'worst use'}</span>
      <b class="num"
        >{now.failures ? `✕ ${now.failures} fail${now.failures === 1 ? 's' : ''}` : used(worst?.use, worst?.brief)}</b
      >
      <span class="delta words" title={worst ? worded(worst.name) : ''}
        >{worst ? `${worded(worst.name)} at ${chainage(worst.chainage_m, 0)}` : ''}{now.failures &&
        worst &&
        worst.use !== null
          ? `, ${used(worst.use, worst.brief)}`
          : ''}</span
      >
    </div>
  {/if}
</div>

<style>
  .ledger {
    display: flex;
    height: 100%;
  }
  .behind b,
  .behind .delta {
    opacity: 0.45;
    transition: opacity 0s 150ms;
  }
  .item {
    contain: layout;
    display: flex;
    flex-direction: column;
    align-items: flex-end;
    justify-content: center;
    padding: 0 8px;
    border-left: 1px solid var(--color-base-300);
    min-width: 66px;
    font-size: 12px;
    line-height: 1.25;
    white-space: nowrap;
  }
  b {
    font-size: 15.5px;
  }
  .delta {
    font-size: 12px;
    min-height: 15px;
  }
  .words {
    max-width: 100%;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  /* Stripped over the footprint, it changes with that: where there is little room it goes first. */
  @container head (max-width: 1420px) {
    .item[data-item='topsoil'] {
      display: none;
    }
  }
  /* Zoomed in, the lines' tabs need the room: what says least goes first. */
  @container head (max-width: 1180px) {
    .item {
      padding: 0 6px;
      min-width: 56px;
    }
    .item[data-item='worst'] {
      max-width: 150px;
    }
  }
</style>
