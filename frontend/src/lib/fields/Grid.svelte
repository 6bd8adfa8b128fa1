<script lang="ts" generics="Row">
  import { worded } from '../system.svelte';
  import { tick, untrack } from 'svelte';
  import { DIMENSIONS, type DimensionName } from '../../api/fields';
  import { NotUnderstood } from '../parse';
  import { understand, unitOf, type Value } from '../units';

  interface Column {
    key: string;
    title: string;
    dimension: DimensionName;
    show: (row: Row, index: number) => string;
    /** Whether this cell of this row can be typed into; missing: never. */
    edit?: (row: Row, index: number) => boolean;
    /** The only values there are. */
    choices?: readonly string[];
    /** What they are called, where that is something else. */
    names?: Readonly<Record<string, string>>;
    /** What an emptied cell means; missing: it is refused as no value. */
    emptied?: (index: number) => void;
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
    /** Rows that are picked, in the order in which they were. */
    picked?: number[];
    /** Nothing is typed just now, as while something is dragged elsewhere: fields are drawn as the text in them. */
    calm?: boolean;
  }
  let {
    label,
    columns,
    rows,
    current = null,
    name,
    fails,
    oncurrent,
    ontype,
    onpaste,
    ondelete,
    picked = $bindable([]),
    calm = false,
  }: Props = $props();
  let typed = $state<{ row: number; key: string; text: string } | null>(null);
  let refused = $state<{ row: number; key: string; why: string } | null>(null);
  let table: HTMLTableElement;
  // Each field is a layer to the browser, which counts at every frame of a drag; the text in it is none.
  const asText = $derived(calm && !untrack(() => table?.contains(document.activeElement)));

  // Of a long table only the rows in sight stand in the page, with so many more to each side. [rows]
  const [LONG, BESIDE] = [100, 15];
  // Fields stand in the rows in sight, with so many more to each side; further rows are text. A field that is scrolled
  // out of sight is still a layer to the browser: 60 rows of them took a sixth of each frame of a drag. [rows]
  const [SHORT, NEAR] = [20, 6];
  let rowPx = $state(27);
  let sight = $state<[number, number]>([0, SHORT]);
  const shown = $derived.by(() => {
    if (rows.length <= LONG) return { from: 0, to: rows.length };
    const from = Math.max(Math.min(sight[0], rows.length - 1) - BESIDE, 0);
    return { from, to: Math.min(sight[1] + BESIDE, rows.length) };
  });
  const hasFields = (i: number): boolean =>
    !asText &&
    (rows.length <= SHORT || typed?.row === i || current === i || (i >= sight[0] - NEAR && i < sight[1] + NEAR));

  /** What the table scrolls in. */
  function scroller(): HTMLElement {
    let at: HTMLElement | null = table.parentElement;
    while (at && !/auto|scroll/.test(getComputedStyle(at).overflowY)) at = at.parentElement;
    return at ?? document.documentElement;
  }

  function look(): void {
    const room = scroller().getBoundingClientRect();
    const above = room.top - table.tBodies[0]!.getBoundingClientRect().top;
    rowPx = table.querySelector('tr[data-row]')?.getBoundingClientRect().height || rowPx;
    const first = Math.max(Math.floor(above / rowPx), 0);
    // By steps, so that not every pixel of scrolling makes other rows.
    const from = first - (first % NEAR);
    const to = from + Math.ceil(room.height / rowPx) + NEAR;
    if (from !== sight[0] || to !== sight[1]) sight = [from, to];
  }

  $effect(() => {
    if (rows.length <= SHORT) return;
    const room = scroller();
    const sized = new ResizeObserver(look);
    sized.observe(room);
    room.addEventListener('scroll', look, { passive: true });
    return () => {
      sized.disconnect();
      room.removeEventListener('scroll', look);
    };
  });

  /** Bring a row into sight, and so into the page, with its fields. */
  async function reach(row: number): Promise<void> {
    if (row < shown.from || row >= shown.to) {
      const room = scroller();
      const top = table.tBodies[0]!.getBoundingClientRect().top - room.getBoundingClientRect().top;
      room.scrollTop += top + row * rowPx - room.clientHeight / 2;
      look();
      await tick();
    }
    table.querySelector(`[data-row="${row}"]`)?.scrollIntoView({ block: 'nearest' });
    if (rows.length <= SHORT) return;
    look();
    await tick();
  }

  $effect(() => {
    if (current !== null) void untrack(() => reach(current));
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
    if (!t.text.trim() && column.emptied) {
      typed = null;
      refused = null;
      column.emptied(t.row);
      return;
    }
    try {
      sending = t;
      const value = understand(column.dimension, t.text);
      const why = await ontype(t.row, t.key, value);
      refused = why ? { row: t.row, key: t.key, why } : null;
      if (!why && typed === t) typed = null;
    } catch (error) {
      refused = { row: t.row, key: t.key, why: error instanceof NotUnderstood ? error.message : String(error) };
    } finally {
      sending = null;
    }
  }

  async function choose(row: number, key: string, list: HTMLSelectElement): Promise<void> {
    const why = await ontype(row, key, list.value);
    refused = why ? { row, key, why } : null;
    const column = columns.find((c) => c.key === key);
    if (why && column) list.value = column.show(rows[row]!, row);
  }

  async function go(row: number, key: string): Promise<void> {
    if (row < 0 || row >= rows.length) return;
    await reach(row);
    table.querySelector<HTMLInputElement>(`[data-row="${row}"] [data-key="${key}"] input`)?.focus();
  }

  function key(e: KeyboardEvent, row: number, column: string): void {
    if (e.key === 'Enter' || e.key === 'ArrowDown' || e.key === 'ArrowUp') {
      e.preventDefault();
      void commit().then(() => {
        if (!refused) void go(row + (e.key === 'ArrowUp' ? -1 : 1), column);
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

<table
  class="sheet num"
  class:windowed={rows.length > LONG}
  bind:this={table}
  aria-label={label}
  aria-rowcount={rows.length + 1}
>
  <thead>
    <tr>
      <th scope="col"><span class="sr-only">row</span></th>
      {#each columns as column (column.key)}
        <th
          scope="col"
          style:min-width={DIMENSIONS[column.dimension].typed === 'text'
            ? undefined
            : `calc(${longest(column)}ch + 14px)`}
          >{[worded(column.title), unitOf(column.dimension)].filter((part) => part).join(', ')}</th
        >
      {/each}
    </tr>
  </thead>
  <tbody>
    {#if shown.from}<tr style:height="{shown.from * rowPx}px"></tr>{/if}
    {#each rows.slice(shown.from, shown.to) as row, k (shown.from + k)}
      {@const i = shown.from + k}
      <tr
        data-row={i}
        aria-rowindex={i + 2}
        class:current={current === i}
        class:picked={picked.includes(i)}
        class:fails={fails?.(i)}
      >
        <th scope="row">
          <button onclick={(e) => pick(e, i)} onkeydown={remove} title="Select the row; with Shift or Ctrl several">
            {#if fails?.(i)}<span class="failure" aria-label="fails">✕</span>{/if}
            {name(i)}
          </button>
        </th>
        {#each columns as column (column.key)}
          <td data-key={column.key}>
            {#if column.edit?.(row, i) && column.choices?.length}
              <select
                class="select select-xs"
                aria-label={`${name(i)} ${worded(column.title)}`}
                value={column.show(row, i)}
                onchange={(e) => void choose(i, column.key, e.currentTarget)}
              >
                {#each column.choices as choice (choice)}<option value={choice}
                    >{column.names?.[choice] ?? choice}</option
                  >{/each}
              </select>
            {:else if column.edit?.(row, i) && !hasFields(i)}
              <span class={DIMENSIONS[column.dimension].typed === 'text' ? 'field words' : 'field num'}
                >{column.show(row, i)}</span
              >
            {:else if column.edit?.(row, i)}
              <input
                class={DIMENSIONS[column.dimension].typed === 'text' ? 'field words' : 'field num'}
                aria-label={`${name(i)} ${worded(column.title)}`}
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
    {#if shown.to < rows.length}<tr style:height="{(rows.length - shown.to) * rowPx}px"></tr>{/if}
  </tbody>
</table>

<style>
  thead th {
    white-space: normal;
    vertical-align: bottom;
  }
  thead th {
    z-index: 2;
  }
  thead th:first-child {
    left: 0;
    z-index: 3;
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
  /* Brought into sight, a row stands below the heading that stays. */
  tbody tr {
    scroll-margin-top: 30px;
  }
  .current {
    background: color-mix(in srgb, var(--color-primary) 12%, transparent);
  }
  .picked th {
    background: color-mix(in srgb, var(--color-primary) 28%, var(--color-base-100));
  }
  td .select {
    min-width: 92px;
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
    /* The line of its figures is that of the cells beside it, to the part of a pixel. */
    padding-top: 2px;
    line-height: 20px;
    border-color: transparent;
    background: transparent;
  }
  td span.field {
    display: inline-block;
    white-space: pre;
  }
  td .field:hover,
  td .field:focus {
    border-color: var(--color-base-300);
    background: var(--color-base-100);
  }
</style>
