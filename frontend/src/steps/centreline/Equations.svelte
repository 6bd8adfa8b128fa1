<script lang="ts">
  import Grid from '../../lib/fields/Grid.svelte';
  import { plainChainage } from '../../lib/format';
  import { back, type Equation } from '../../lib/stations.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';
  import type { Value } from '../../lib/units';

  // Chainage equations of the line in hand. Where one stands is typed as what is written just before it.
  let {
    current,
    oncurrent,
    ondelete,
  }: { current: number | null; oncurrent: (i: number | null) => void; ondelete: (gone: number[]) => void } = $props();

  const w = useWork();
  const d = $derived(w.drawing);
  const column = (key: 'back' | 'ahead', show: (e: Equation) => number) => ({
    key,
    title: key,
    dimension: 'station' as const,
    show: (e: Equation) => plainChainage(show(e)),
    edit: () => true,
    emptied: (i: number) => ondelete([i]),
  });
  const COLUMNS = [column('back', (e) => back(e.at_m)), column('ahead', (e) => e.ahead_m)];

  function equate(i: number, key: string, value: Value): string | null {
    const own = d.equations[i]!;
    const typed = value as number;
    // A new place back keeps the stretch before it, and what is written ahead.
    const next = key === 'back' ? { ...own, at_m: own.at_m + typed - back(own.at_m) } : { ...own, ahead_m: typed };
    const [first, last] = [d.startM, d.startM + (d.draft?.length_m ?? Infinity)];
    if (next.at_m < first || next.at_m > last) return 'That is no place on this line.';
    d.typedEquations = d.equations.map((e, k) => (k === i ? next : e));
    return null;
  }
</script>

<Grid
  label={worded('Chainage equations')}
  columns={COLUMNS}
  rows={d.equations}
  name={(i) => `= ${i + 1}`}
  ontype={equate}
  {current}
  {oncurrent}
  {ondelete}
/>
