<script lang="ts">
  import { changeRanges, rangesOf } from '../state/ranges';
  import { useWork } from '../state/work.svelte';
  import Bars from './Bars.svelte';
  import { rangeInWords } from './tracks/ranges';

  // The ranges of the limits.
  const w = useWork();
  const bars = $derived(
    rangesOf(w).map(({ range, at }) => {
      const says = rangeInWords(range);
      return { key: String(at), from_m: range.from_m, to_m: range.to_m, words: range.words || says, says };
    }),
  );
</script>

<Bars
  label="Ranges of the limits"
  {bars}
  current={w.selection.range === null ? null : String(w.selection.range)}
  onpick={(key) => (w.selection.range = Number(key))}
  onmoved={(key, to) =>
    w.act(changeRanges(w, 'the range', (rows) => rows.map((r, i) => (String(i) === key ? { ...r, ...to } : r))))}
/>
