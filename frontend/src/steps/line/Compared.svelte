<script lang="ts">
  import { fixed, signedWhole, whole } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';

  // The lines that are drawn over the present one, in figures beside it.
  const w = useWork();
  const others = $derived(
    Object.entries(w.over.shown).flatMap(([slot, { ledger }]) => {
      const line = w.project?.lines.find((l) => l.slot === slot);
      return line && ledger && slot !== w.selection.slot ? [{ slot, name: line.name, ledger }] : [];
    }),
  );
  const rows = $derived(
    w.ledger
      ? ([
          [`cost, ${w.project?.cost?.currency ?? ''}`, 'cost', 1],
          ['cut, m³', 'cut_m3', 1],
          ['fill, m³', 'fill_m3', 1],
          ['haul, m³⋅km', 'haul_m3_m', 1000],
          ['footprint, ha', 'footprint_m2', 1e4],
          ['failures', 'failures', 1],
        ] as const)
      : [],
  );
  const show = (value: number, per: number) => (per === 1e4 ? fixed(value / per, 2) : whole(value / per));
  const change = (by: number, per: number) =>
    per === 1e4 ? (by > 0 ? '+' : '') + fixed(by / per, 2) : signedWhole(by / per);
</script>

{#if others.length && w.ledger}
  <table class="sheet num" aria-label="Lines compared">
    <thead>
      <tr>
        <th scope="col"></th>
        <th scope="col" title={w.line?.name}>{w.line?.name}</th>
        {#each others as { slot, name } (slot)}<th scope="col" title={name}>{name}</th>{/each}
      </tr>
    </thead>
    <tbody>
      {#each rows as [title, key, per] (key)}
        <tr>
          <th scope="row">{title}</th>
          <td>{show(w.ledger[key], per)}</td>
          {#each others as { slot, ledger } (slot)}
            <td title={show(ledger[key], per)}>{change(ledger[key] - w.ledger[key], per)}</td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
{/if}

<style>
  table {
    margin: 4px 0 8px;
  }
  thead th {
    max-width: 90px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  th[scope='row'] {
    text-align: left;
    position: static;
  }
</style>
