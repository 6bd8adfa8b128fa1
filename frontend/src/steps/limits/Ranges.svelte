<script lang="ts">
  import { ROWS } from '../../api/fields';
  import Field from '../../lib/fields/Field.svelte';
  import { chainage } from '../../lib/format';
  import { rangeInWords } from '../../lib/deck/tracks/ranges';
  import { changeRanges, freshRange, LIMIT_NAMES, rangesOf, type LimitRange } from '../../lib/state/ranges';
  import NoRoad from './NoRoad.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // Stretches of chainage with limits of their own: a village, a switchback, a bridge.
  const w = useWork();
  const all = $derived(rangesOf(w));
  const fields = ROWS.ranges.fields;
  const field = (name: string) => fields.find((f) => f.name === name)!;

  function set(at: number, part: Partial<LimitRange>): Promise<string | null> {
    return changeRanges(w, 'the range', (rows) => rows.map((r, i) => (i === at ? { ...r, ...part } : r)));
  }

  /** A start typed behind the end takes the range along. */
  function moved({ from_m, to_m }: LimitRange, name: 'from_m' | 'to_m', value: number): Partial<LimitRange> {
    return name === 'from_m' && value >= to_m ? { from_m: value, to_m: value + to_m - from_m } : { [name]: value };
  }

  async function add(): Promise<void> {
    // A tenth of what is seen, about the plumb line.
    const { axes, plumb } = w.selection;
    const half = Math.max((axes.domain[1] - axes.domain[0]) / 20, 10);
    const at = w.project?.ranges?.rows.length ?? 0;
    const [from, to] = [Math.max(plumb - half, axes.full[0]), Math.min(plumb + half, axes.full[1])].map(Math.round) as [
      number,
      number,
    ];
    const fresh = freshRange(w.road?.slot ?? 'centreline', from, to);
    const refused = await changeRanges(w, 'the range', (rows) => [...rows, fresh]);
    if (refused) w.notices.tell(new Error(refused));
    else w.selection.range = at;
  }

  function remove(at: number): void {
    w.selection.range = null;
    w.act(changeRanges(w, 'the range', (rows) => rows.filter((_, i) => i !== at)));
  }
</script>

<h2>Ranges with limits of their own</h2>
{#each all as { range, at } (at)}
  <details
    class="fold"
    open={w.selection.range === at}
    ontoggle={(e) => {
      if (e.currentTarget.open) w.selection.range = at;
      else if (w.selection.range === at) w.selection.range = null;
    }}
  >
    <summary
      ><b>{range.words || 'Range'}</b>
      {chainage(range.from_m, 0)} to {chainage(range.to_m, 0)}<br /><span class="faint">{rangeInWords(range)}</span
      ></summary
    >
    <Field
      id={`range-${at}-words`}
      label="what it is"
      value={range.words || null}
      dimension="line"
      optional
      free="a village, a bridge"
      take={(v) => set(at, { words: String(v ?? '') })}
    />
    {#each ['from_m', 'to_m'] as const as name (name)}
      <Field
        id={`range-${at}-${name}`}
        label={field(name).label}
        value={range[name]}
        dimension="chainage"
        take={(v) => set(at, moved(range, name, v as number))}
      />
    {/each}
    {#each LIMIT_NAMES as name (name)}
      <Field
        id={`range-${at}-${name}`}
        label={field(name).label}
        value={range[name]}
        dimension={field(name).dimension}
        optional
        free="as around"
        take={(v) => set(at, { [name]: v as number | null })}
      />
    {/each}
    <button class="btn btn-xs" onclick={() => remove(at)}>Delete the range</button>
  </details>
{:else}
  <p class="faint">
    None: the limits above hold everywhere. A range replaces those it sets; inside another it holds alone, between
    equals the stricter one does, and a curve keeps what holds in each that it touches.
  </p>
{/each}
{#if w.still}
  <button class="btn btn-xs" onclick={() => void add()}>Add a range at the plumb line</button>
{:else}<NoRoad what="A range lies" />{/if}

<style>
  summary {
    line-height: 1.35;
  }
  button {
    margin: 4px 0 8px;
  }
</style>
