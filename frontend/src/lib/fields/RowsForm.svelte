<script lang="ts">
  import { NotUnderstood } from '../parse';
  import { changeRows, rowsOf } from '../state/rows';
  import { useWork } from '../state/work.svelte';
  import type { Value } from '../units';
  import { columnsOf, fieldsOfRows, meantBy, pasted } from './columns';
  import type { RowsKind } from '../state/rows';
  import Grid from './Grid.svelte';

  type Row = Record<string, Value | null>;
  interface Props {
    kind: RowsKind;
    label: string;
    /** What a new row holds. */
    fresh: () => Row;
    /** What stands before each row. */
    name?: (index: number) => string;
    /** Which rows are shown, and which of their fields are not. */
    only?: (row: Row) => boolean;
    without?: string[];
    /** Columns that come first. */
    first?: string[];
    /** The only values of a field that is a name of something else. */
    choices?: Record<string, readonly string[]>;
    /** What these are called. */
    names?: Record<string, Readonly<Record<string, string>>>;
  }
  let {
    kind,
    label,
    fresh,
    name = (i) => String(i + 1),
    only = () => true,
    without = [],
    first = [],
    choices = {},
    names = {},
  }: Props = $props();
  const w = useWork();
  const columns = $derived(
    columnsOf(kind)
      .filter((c) => !without.includes(c.key))
      .toSorted((a, b) => rank(a.key) - rank(b.key))
      .map((c) => ({
        ...c,
        choices: choices[c.key] ?? c.choices,
        names: names[c.key],
        emptied: optional(c.key) ? emptied(c.key) : undefined,
      })),
  );
  const rank = (key: string) => (first.includes(key) ? first.indexOf(key) : first.length);
  const optional = (key: string) => fieldsOfRows(kind).some((f) => f.name === key && f.optional);
  const emptied = (key: string) => (i: number) => {
    const at = place(i);
    w.act(change(label, (all) => all.map((r, k) => (k === at ? { ...r, [key]: null } : r))));
  };
  const all = $derived(rowsOf<Row>(kind, w.project));
  const rows = $derived(all.filter(only));
  /** Where a row that is shown stands among all. */
  const place = (shown: number) => (shown < rows.length ? all.indexOf(rows[shown]!) : all.length);

  const change = (what: string, make: (rows: Row[]) => Row[]) => changeRows(w, kind, what, make);

  function paste(at: number, key: string, cells: string[][]): Promise<string | null> | string {
    try {
      pasted(kind, rows, at, key, cells, fresh());
      at = place(at);
    } catch (error) {
      return error instanceof NotUnderstood ? error.message : String(error);
    }
    return change(label, (all) => pasted(kind, all, at, key, cells, fresh()));
  }
</script>

{#if rows.length}
  <Grid
    {label}
    {columns}
    {rows}
    {name}
    ontype={(i, key, value) => {
      const at = place(i);
      return change(label, (all) =>
        all.map((r, k) => (k === at ? { ...r, [key]: meantBy(kind, key, value) as Value } : r)),
      );
    }}
    onpaste={paste}
    ondelete={(shown) => {
      const gone = shown.map(place);
      w.act(change(label, (all) => all.filter((_, i) => !gone.includes(i))));
    }}
  />
{/if}
<button class="btn btn-xs" onclick={() => w.act(change(label, (all) => [...all, fresh()]))}>Add one</button>

<style>
  button {
    margin: 4px 0;
  }
</style>
