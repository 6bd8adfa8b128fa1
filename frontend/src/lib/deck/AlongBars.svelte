<script lang="ts">
  import { changeAlong, changeInWords, KIND, placed, sectionNames, type AlongList } from '../state/along';
  import type { AddedLane, SectionChange, SectionRange } from '../state/along';
  import { useWork } from '../state/work.svelte';
  import Bars, { type Bar } from './Bars.svelte';

  // Where another section is built, lanes are added, or something is changed.
  const w = useWork();
  const names = $derived(sectionNames(w));
  const bars = $derived<Bar[]>([
    ...placed<SectionRange>(w, 'ranges').map(({ row, at }) => {
      const words = names[row.section] ?? '';
      return { ...row, key: `ranges ${at}`, words, says: words, light: row.section === 'none' };
    }),
    ...placed<AddedLane>(w, 'lanes').map(({ row, at }) => {
      const words = `${row.name}, ${row.side}`;
      return { ...row, key: `lanes ${at}`, words, says: row.reason ? `${words}: ${row.reason}` : words };
    }),
    ...placed<SectionChange>(w, 'changes').map(({ row, at }) => {
      const says = changeInWords(row);
      return { ...row, key: `changes ${at}`, words: row.reason || says, says, light: true };
    }),
  ]);
  const taken = (key: string) => key.split(' ') as [AlongList, string];

  function moved(key: string, to: { from_m: number; to_m: number }): void {
    const [list, at] = taken(key);
    w.act(
      changeAlong<object>(w, list, 'the stretch', (rows) =>
        rows.map((r, i) => (String(i) === at ? { ...r, ...to } : r)),
      ),
    );
  }
</script>

<Bars
  label="What is built along the road"
  {bars}
  current={w.selection.along}
  onpick={(key) => (w.selection.along = taken(key)[0] in KIND ? key : null)}
  onmoved={moved}
/>
