<script lang="ts">
  import Grid from '../../lib/fields/Grid.svelte';
  import { columnsOf, fieldsOfRows, meantBy } from '../../lib/fields/columns';
  import { has } from '../../lib/section/shape';
  import { copied, type Element, type Part, type Side, type Typical } from '../../lib/state/sections.svelte';
  import type { RowsKind } from '../../lib/state/rows';
  import { useWork } from '../../lib/state/work.svelte';
  import type { Value } from '../../lib/units';

  // The rows of one part of a section on one side: what is typed here is drawn above.
  interface Props {
    part: Part;
    side: Side;
    fresh: (section: Typical, side: Side) => object;
    label: string;
  }
  let { part, side, fresh, label }: Props = $props();
  const w = useWork();
  const s = w.sections;
  const KINDS: Record<Part, RowsKind> = {
    elements: 'section',
    layers: 'section.layers',
    batters: 'section.batters',
  };
  type Row = { side: Side; [key: string]: unknown };
  const kind = $derived(KINDS[part]);
  const all = $derived((s.shown?.[part] ?? []) as unknown as Row[]);
  const rows = $derived(all.filter((r) => r.side === side));
  /** Where a row of this side stands among all. */
  const place = (i: number) => all.indexOf(rows[i]!);
  const points = $derived(['', ...(s.shown?.elements ?? []).filter((e) => e.side === side).map((e) => e.name)]);

  const columns = $derived(
    columnsOf(kind)
      .filter((c) => c.key !== 'side' && rows.some((r) => asked(r, c.key)))
      .map((c) => ({
        ...c,
        choices: c.key === 'first' || c.key === 'last' ? points : c.choices,
        edit: (row: unknown) => asked(row as Row, c.key),
        show: (row: unknown, i: number) => (asked(row as Row, c.key) ? c.show(row, i) : ''),
        emptied: fieldsOfRows(kind).some((f) => f.name === c.key && f.optional)
          ? (i: number) => w.act(type(i, c.key, null))
          : undefined,
      })),
  );

  /** Whether a field means something for a row. */
  function asked(row: Row, key: string): boolean {
    if (part !== 'elements') return key !== 'bench_fall' || (row.bench_m as number) > 0;
    if (key === 'exceeds_m') return row.built !== 'always';
    return has(row.kind as Element['kind'], key);
  }

  function change(what: string, make: (rows: Row[]) => Row[]): Promise<string | null> {
    return s.change(what, (section) => {
      const next = { ...section, [part]: make(section[part] as unknown as Row[]) } as Typical;
      return s.both ? copied(next, side) : next;
    });
  }

  async function type(i: number, key: string, value: Value | null): Promise<string | null> {
    const at = place(i);
    const meant = value === null ? null : meantBy(kind, key, value);
    const named = part === 'elements' && key === 'name' ? (rows[i]!.name as string) : null;
    return s.change(`“${label}”`, (section) => {
      const own = (section[part] as unknown as Row[]).map((r, k) => (k === at ? { ...r, [key]: meant } : r));
      let next = { ...section, [part]: own } as unknown as Typical;
      // Layers go on naming the point that was called otherwise.
      if (named !== null) {
        const renamed = (name: string) => (name === named ? String(meant) : name);
        next = {
          ...next,
          layers: next.layers.map((l) =>
            l.side === side ? { ...l, first: renamed(l.first), last: renamed(l.last) } : l,
          ),
        };
      }
      return s.both ? copied(next, side) : next;
    });
  }

  function remove(shown: number[]): void {
    const gone = shown.map(place);
    w.act(change(`“${label}”`, (rows) => rows.filter((_, k) => !gone.includes(k))));
    s.row = null;
  }

  function add(): void {
    w.act(
      change(`“${label}”`, (rows) => {
        const made = fresh(s.saved!, side) as Row;
        const last = rows.map((r) => r.side).lastIndexOf(side);
        return [...rows.slice(0, last + 1), made, ...rows.slice(last + 1)];
      }),
    );
  }

  const current = $derived(part === 'elements' && s.row !== null ? rows.indexOf(all[s.row]!) : null);
  let picked = $state<number[]>([]);

  /** Bring a row further in, or further out. */
  function shift(by: -1 | 1): void {
    const i = picked[0] ?? current ?? -1;
    const [a, b] = [rows[i], rows[i + by]];
    if (!a || !b) return;
    const [at, to] = [place(i), place(i + by)];
    const turned = (rows: Row[]) => rows.map((r, k) => (k === at ? rows[to]! : k === to ? rows[at]! : r));
    w.act(change(`“${label}”`, turned));
    picked = [i + by];
    if (part === 'elements') s.row = to;
  }
</script>

<div class="rows">
  {#if rows.length}
    <Grid
      {label}
      {columns}
      {rows}
      {current}
      bind:picked
      name={(i) => String(i + 1)}
      oncurrent={(i) => {
        if (part === 'elements') s.row = place(i);
      }}
      ontype={(i, key, value) => type(i, key, value)}
      ondelete={remove}
    />
  {/if}
</div>
<div class="buttons">
  <button class="btn btn-xs" onclick={add}>Add a row</button>
  <button class="btn btn-xs" disabled={!picked.length} onclick={() => shift(-1)}>Further in</button>
  <button class="btn btn-xs" disabled={!picked.length} onclick={() => shift(1)}>Further out</button>
  <button class="btn btn-xs" disabled={!picked.length} onclick={() => remove(picked)}>Delete</button>
  <span class="faint">{picked.length ? '' : 'Click the number of a row to move or delete it.'}</span>
</div>

<style>
  .rows {
    overflow: auto;
    min-height: 0;
  }
  .rows :global(td .field) {
    min-width: 50px;
  }
  .rows :global(td .words) {
    min-width: 112px;
  }
  .rows :global(td .select) {
    min-width: 94px;
  }
  .buttons {
    display: flex;
    gap: 6px;
    align-items: center;
    padding: 4px 0;
    font-size: 12px;
  }
</style>
