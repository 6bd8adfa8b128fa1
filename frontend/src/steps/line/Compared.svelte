<script lang="ts">
  import { change, figure, unitOf } from '../../lib/units';
  import { signedWhole, whole } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';

  // The lines that are drawn over the present one, in figures beside it.
  const w = useWork();
  const others = $derived(
    Object.entries(w.over.shown).flatMap(([slot, { products }]) => {
      const { ledger } = products;
      const line = w.project?.lines.find((l) => l.slot === slot);
      return line && ledger && slot !== w.selection.slot ? [{ slot, name: line.name, ledger }] : [];
    }),
  );
  const rows = $derived(
    w.ledger
      ? ([
          ['cost', 'cost', null],
          ['cut', 'cut_m3', 'volume'],
          ['fill', 'fill_m3', 'volume'],
          ['haul', 'haul_m3_m', 'haul'],
          ['net', 'net_m3', 'volume'],
          ['borrow', 'borrow_m3', 'volume'],
          ['spoil', 'spoil_m3', 'volume'],
          ['footprint', 'footprint_m2', 'land'],
          ['failures', 'failures', null],
        ] as const)
      : [],
  );
  type Of = 'volume' | 'haul' | 'land' | null;
  const digits = (of: Of) => (of === 'land' ? 2 : undefined);
  const shown = (value: number, of: Of) => (of ? figure(of, value, digits(of)) : whole(value));
  const changed = (by: number, of: Of) => (of ? change(of, by, digits(of)) : signedWhole(by));
  const unit = (key: string, of: Of) => (of ? unitOf(of) : key === 'cost' ? (w.project?.cost?.currency ?? '') : '');
</script>

{#if others.length && w.ledger}
  <table class="sheet num" aria-label="Lines compared">
    <thead>
      <tr>
        <th scope="col">of it</th>
        <th scope="col" title={w.line?.name}>{w.line?.name}</th>
        {#each others as { slot, name } (slot)}<th scope="col" title={name}>{name}</th>{/each}
      </tr>
    </thead>
    <tbody>
      {#each rows as [title, key, of] (key)}
        <tr>
          <th scope="row">{[title, unit(key, of)].filter((part) => part).join(', ')}</th>
          <td>{shown(w.ledger[key], of)}</td>
          {#each others as { slot, ledger } (slot)}
            <td title={shown(ledger[key], of)}>{changed(ledger[key] - w.ledger[key], of)}</td>
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
