<script lang="ts">
  import { chainage, fixed, percent, signedWhole, whole } from './format';
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
          ['cost', `cost, ${currency}`, now.cost, was?.cost, 1],
          ['cut', 'cut, m³', now.cut_m3, was?.cut_m3, 1],
          ['fill', 'fill, m³', now.fill_m3, was?.fill_m3, 1],
          ['haul', 'haul, m³⋅km', now.haul_m3_m / 1000, was && was.haul_m3_m / 1000, 1],
          ['topsoil', 'topsoil, m³', now.topsoil_m3, was?.topsoil_m3, 1],
          ['footprint', 'footprint, ha', now.footprint_m2 / 1e4, was && was.footprint_m2 / 1e4, 3],
        ] as [string, string, number, number | null | undefined, number][])
      : [],
  );
  const worst = $derived(now?.worst_use ?? null);

  function used(use: number | null | undefined): string {
    if (use === null || use === undefined) return '–';
    return use > 9.99 ? 'over 999 %' : percent(use, 0);
  }

  function change(value: number, before: number, digits: number): string {
    const d = value - before;
    if (digits === 1) return Math.round(d) === 0 ? 'no change' : signedWhole(d);
    return Math.abs(d) < 0.0005 ? 'no change' : (d > 0 ? '+' : '−') + fixed(Math.abs(d), digits);
  }
</script>

<div class="ledger" class:behind role="status" aria-label="Ledger" aria-live="off">
  {#each items as [key, title, value, before, digits] (key)}
    <div class="item" data-item={key} data-value={value}>
      <span class="faint">{title}</span>
      <b class="num">{digits === 1 ? whole(value) : fixed(value, 2)}</b>
      <span class="delta num">{typeof before === 'number' ? change(value, before, digits) : ''}</span>
    </div>
  {/each}
  {#if now}
    <div class="item" data-item="worst" class:failure={now.failures > 0}>
      <span class={now.failures ? '' : 'faint'}>{now.failures ? 'limits' : 'worst use'}</span>
      <b class="num">{now.failures ? `✕ ${now.failures} fail${now.failures === 1 ? 's' : ''}` : used(worst?.use)}</b>
      <span class="delta"
        >{worst ? `${worst.name} at ${chainage(worst.chainage_m, 0)}` : ''}{now.failures && worst && worst.use !== null
          ? `, ${used(worst.use)}`
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
</style>
