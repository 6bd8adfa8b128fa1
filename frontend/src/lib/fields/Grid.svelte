<script lang="ts" generics="Row">
  import { NotUnderstood, parse, type Kind } from '../parse';
  import type { Value } from '../units';

  interface Column {
    key: string;
    title: string;
    unit: string;
    kind: Kind;
    show: (row: Row, index: number) => string;
    /** Whether this cell of this row can be typed into; missing: never. */
    edit?: (row: Row, index: number) => boolean;
  }
  interface Props {
    label: string;
    columns: Column[];
    rows: Row[];
    /** The row in hand, marked and kept in view. */
    current?: number | null;
    /** Name before each row. */
    name: (index: number) => string;
    fails?: (index: number) => boolean;
    oncurrent?: (index: number) => void;
    /** Take one typed value; answers with the reason where it is refused. */
    ontype: (index: number, key: string, value: Value) => Promise<string | null> | string | null;
    /** Several cells from a spreadsheet, from this cell on. */
    onpaste?: (index: number, key: string, cells: string[][]) => Promise<string | null> | string | null;
    ondelete?: (indices: number[]) => void;
  }
  let { label, columns, rows, current = null, name, fails, oncurrent, ontype, onpaste, ondelete }: Props = $props();
  let typed = $state<{ row: number; key: string; text: string } | null>(null);
  let refused = $state<{ row: number; key: string; why: string } | null>(null);
  let picked = $state.raw<number[]>([]);
  let table: HTMLTableElement;

  $effect(() => {
    if (current === null) return;
    table.querySelector(`[data-row="${current}"]`)?.scrollIntoView({ block: 'nearest' });
  });

  /** Characters of a column's longest figure: no digit is cut off where the table is narrow. */
  function longest(column: (typeof columns)[number]): number {
    return Math.max(0, ...rows.map((row, i) => column.show(row, i).length));
  }

  let sending: typeof typed = null;
  async function commit(): Promise<void> {
    const t = typed;
    if (!t || sending === t) return;
    const column = columns.find((c) => c.key === t.key);
    const row = rows[t.row];
    if (!column || row === undefined || t.text.trim() === column.show(row, t.row)) {
      typed = null;
      refused = null;
      return;
    }
    try {
      sending = t;
      const value = column.kind === 'text' ? t.text.trim() : parse(t.text, column.kind);
      const why = await ontype(t.row, t.key, value);
      refused = why ? { row: t.row, key: t.key, why } : null;
      if (!why && typed === t) typed = null;
    } catch (error) {
      refused = { row: t.row, key: t.key, why: error instanceof NotUnderstood ? error.message : String(error) };
    } finally {
      sending = null;
    }
  }

  function go(row: number, key: string): void {
    table.querySelector<HTMLInputElement>(`[data-row="${row}"] [data-key="${key}"] input`)?.focus();
  }

  function key(e: KeyboardEvent, row: number, column: string): void {
    if (e.key === 'Enter' || e.key === 'ArrowDown' || e.key === 'ArrowUp') {
      e.preventDefault();
      void commit().then(() => {
        if (!refused) go(row + (e.key === 'ArrowUp' ? -1 : 1), column);
      });
    } else if (e.key === 'Escape') {
      typed = null;
      refused = null;
    } else return;
    e.stopPropagation();
  }

  async function paste(e: ClipboardEvent, row: number, column: string): Promise<void> {
    const text = e.clipboardData?.getData('text/plain') ?? '';
    if (!onpaste || !/[\t\n]/.test(text.trim())) return;
    e.preventDefault();
    typed = null;
    const cells = text
      .replace(/\r/g, '')
      .trimEnd()
      .split('\n')
      .map((line) => line.split('\t'));
    const why = await onpaste(row, column, cells);
    refused = why ? { row, key: column, why } : null;
  }

  function pick(e: MouseEvent, row: number): void {
    const last = picked.at(-1);
    if (e.shiftKey && last !== undefined) {
      const [a, b] = [Math.min(last, row), Math.max(last, row)];
      picked = Array.from({ length: b - a + 1 }, (_, i) => a + i);
    } else if (e.ctrlKey || e.metaKey)
      picked = picked.includes(row) ? picked.filter((p) => p !== row) : [...picked, row];
    else picked = picked.length === 1 && picked[0] === row ? [] : [row];
    oncurrent?.(row);
  }

  function remove(e: KeyboardEvent): void {
    if ((e.key === 'Delete' || e.key === 'Backspace') && picked.length && ondelete) {
      e.preventDefault();
      e.stopPropagation();
      ondelete([...picked]);
      picked = [];
    }
  }
</script>

<table class="sheet num" bind:this={table} aria-label={label}>
  <thead>
    <tr>
      <th scope="col"></th>
      {#each columns as column (column.key)}
        <th scope="col" style:min-width={column.kind === 'text' ? undefined : `calc(${longest(column)}ch + 14px)`}
          >{column.title}{column.unit ? `, ${column.unit}` : ''}</th
        >
      {/each}
    </tr>
  </thead>
  <tbody>
    {#each rows as row, i (i)}
      <tr data-row={i} class:current={current === i} class:picked={picked.includes(i)} class:fails={fails?.(i)}>
        <th scope="row">
          <button onclick={(e) => pick(e, i)} onkeydown={remove} title="Select the row; with Shift or Ctrl several">
            {#if fails?.(i)}<span class="failure" aria-label="fails">✕</span>{/if}
            {name(i)}
          </button>
        </th>
        {#each columns as column (column.key)}
          <td data-key={column.key}>
            {#if column.edit?.(row, i)}
              <input
                class={column.kind === 'text' ? 'field words' : 'field num'}
                aria-label={`${name(i)} ${column.title}`}
                aria-invalid={refused?.row === i && refused.key === column.key}
                autocomplete="off"
                data-touched={typed?.row === i && typed.key === column.key ? 'yes' : undefined}
                value={typed?.row === i && typed.key === column.key ? typed.text : column.show(row, i)}
                oninput={(e) => (typed = { row: i, key: column.key, text: e.currentTarget.value })}
                onfocus={(e) => {
                  e.currentTarget.select();
                  oncurrent?.(i);
                }}
                onblur={() => void commit()}
                onkeydown={(e) => key(e, i, column.key)}
                onpaste={(e) => void paste(e, i, column.key)}
              />
            {:else}{column.show(row, i)}{/if}
          </td>
        {/each}
      </tr>
      {#if refused?.row === i}
        <tr><td colspan={columns.length + 1} class="failure why">{refused.why}</td></tr>
      {/if}
    {/each}
  </tbody>
</table>

<style>
  thead th {
    white-space: normal;
    vertical-align: bottom;
  }
  th[scope='row'] {
    padding: 0 2px;
    text-align: left;
    top: auto;
    left: 0;
    z-index: 1;
  }
  button {
    min-height: 26px;
    min-width: 44px;
    padding: 2px 4px 0;
    line-height: 20px;
    text-align: left;
    white-space: nowrap;
    cursor: pointer;
    color: var(--color-base-content);
  }
  .current {
    background: color-mix(in srgb, var(--color-primary) 12%, transparent);
  }
  .picked th {
    background: color-mix(in srgb, var(--color-primary) 28%, var(--color-base-100));
  }
  td .words {
    text-align: left;
    min-width: 150px;
  }
  .why {
    text-align: left;
    white-space: normal;
  }
  td {
    height: 26px;
  }
  td:has(.field) {
    padding: 0;
  }
  td .field {
    min-width: 72px;
    height: 24px;
    line-height: 20px;
    border-color: transparent;
    background: transparent;
  }
  td .field:hover,
  td .field:focus {
    border-color: var(--color-base-300);
    background: var(--color-base-100);
  }
</style>
