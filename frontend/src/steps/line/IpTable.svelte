<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { figure, understand } from '../../lib/units';
  import { PLAIN_CURVE, typedIps, type Edit, type Ip } from '../../api/client';
  import type { DimensionName } from '../../api/fields';
  import Grid from '../../lib/fields/Grid.svelte';
  import { chainage, fixed, signed, ipName } from '../../lib/format';
  import { never } from '../../lib/never';
  import { NotUnderstood } from '../../lib/parse';
  import { useWork } from '../../lib/state/work.svelte';

  const w = useWork();
  const last = $derived(w.ips.length - 1);
  const inner = (r: Ip) => r.grade_in !== null && r.grade_out !== null;
  const failing = $derived(w.failingIps);

  const COLUMNS = [
    {
      key: 'chainage_m',
      title: 'chainage',
      dimension: 'chainage' as DimensionName,
      show: (r: Ip) => chainage(r.chainage_m),
      edit: inner,
    },
    {
      key: 'level_m',
      title: 'level',
      dimension: 'level' as DimensionName,
      show: (r: Ip) => figure('level', r.level_m),
      edit: () => true,
    },
    {
      key: 'grade_in',
      title: 'grade in',
      dimension: 'exact_grade' as DimensionName,
      show: (r: Ip) => (r.grade_in === null ? '' : signed(100 * r.grade_in, 3)),
      edit: inner,
    },
    {
      key: 'grade_out',
      title: 'grade out',
      dimension: 'exact_grade' as DimensionName,
      show: (r: Ip) => (r.grade_out === null ? '' : signed(100 * r.grade_out, 3)),
      edit: inner,
    },
    {
      key: 'a',
      title: 'A',
      dimension: 'exact_grade' as DimensionName,
      show: (r: Ip) => (inner(r) ? fixed(100 * Math.abs(r.change_of_grade), 2) : ''),
    },
    {
      key: 'curve_length_m',
      title: 'curve',
      dimension: 'length' as DimensionName,
      show: (r: Ip) => (inner(r) ? figure('length', r.curve_length_m) : ''),
      edit: inner,
    },
    {
      key: 'k',
      title: 'K',
      dimension: 'k' as DimensionName,
      show: (r: Ip) => (r.k_m_per_pct === null ? '' : figure('k', r.k_m_per_pct, 1)),
      edit: inner,
    },
    {
      key: 'room',
      title: 'room',
      dimension: 'length' as DimensionName,
      show: (r: Ip) => (inner(r) ? figure('length', r.room_m, 1) : ''),
    },
  ];
  /** Of a parabola 100 K. */
  const RADIUS = {
    key: 'radius',
    title: 'R',
    dimension: 'length' as DimensionName,
    show: (r: Ip) => (r.k_m_per_pct === null ? '' : figure('length', r.radius_m ?? 100 * r.k_m_per_pct, 0)),
  };
  const columns = $derived([...COLUMNS, ...(w.written.long('radius') ? [RADIUS] : [])]);

  const { selection } = w;
  const onlyFailing = $derived(selection.onlyFailing);
  const rows = $derived(w.aside.value.figures?.products.line?.ips ?? w.ips);
  // With an IP more or less, numbers mean others.
  const count = $derived(rows.length);
  $effect(() => {
    void count;
    selection.picked = [];
  });
  /** Numbers of the IPs that stand in the table, and where each of these stands. */
  const listed = $derived(rows.map((_, i) => i).filter((i) => !onlyFailing || failing.has(i)));

  type Key = 'chainage_m' | 'level_m' | 'grade_in' | 'grade_out' | 'curve_length_m' | 'k';

  function edit(i: number, key: Key, value: number): Edit {
    const ip = w.ips[i]!;
    switch (key) {
      case 'chainage_m':
        return { what: 'move', ip: i, chainage_m: value, level_m: ip.level_m, slide: false };
      case 'level_m':
        return { what: 'move', ip: i, chainage_m: ip.chainage_m, level_m: value, slide: false };
      case 'curve_length_m':
        return { what: 'length', ip: i, curve_length_m: value };
      case 'k':
        return { what: 'k', ip: i, k_m_per_pct: value };
      case 'grade_in':
        return { what: 'grade', ip: i, grade: value, side: 'in', moves: 'this' };
      case 'grade_out':
        return { what: 'grade', ip: i, grade: value, side: 'out', moves: 'this' };
      default:
        return never(key);
    }
  }

  const plain = () => typedIps(w.ips);

  /** Cells of a spreadsheet over chainage, level and curve; rows past the last but one come in as new IPs. */
  async function paste(at: number, key: string, cells: string[][]): Promise<string | null> {
    const order = ['chainage_m', 'level_m', 'curve_length_m'] as const;
    const first = order.indexOf(key as (typeof order)[number]);
    if (first < 0) return worded('Paste over chainage, level and curve; the other columns follow from them.');
    const rows = plain();
    const end = rows.pop()!;
    try {
      cells.forEach((line, k) => {
        const row = at + k < rows.length ? rows[at + k]! : { chainage_m: 0, level_m: 0, ...PLAIN_CURVE };
        line.forEach((text, c) => {
          const column = order[first + c];
          if (!column) return;
          row[column] = understand(column === 'chainage_m' ? 'chainage' : 'length', text) as number;
          if (column === 'curve_length_m') [row.held_k_m_per_pct, row.held] = [null, 'length'];
        });
        if (at + k >= rows.length) rows.push(row);
      });
    } catch (error) {
      return error instanceof NotUnderstood ? error.message : String(error);
    }
    return w.apply({ what: 'ips', ips: [...rows, end] });
  }

  function remove(indices: number[]): void {
    const ips = plain().filter((_, i) => i === 0 || i === last || !indices.includes(i));
    if (ips.length < w.ips.length) w.act(w.apply({ what: 'ips', ips }));
  }
</script>

<div class="ips" role="region" aria-label="IP table">
  <div class="rows">
    <Grid
      label="IPs of the grade line"
      calm={w.trial.draft !== null}
      {columns}
      rows={listed.map((i) => rows[i]!)}
      current={w.selection.ip === null || !listed.includes(w.selection.ip) ? null : listed.indexOf(w.selection.ip)}
      name={(k) => ipName(listed[k]!, last)}
      fails={(k) => failing.has(listed[k]!)}
      bind:picked={
        () => selection.picked.map((i) => listed.indexOf(i)).filter((k) => k >= 0),
        (now) => (selection.picked = now.map((k) => listed[k]!))
      }
      oncurrent={(k) => {
        if (w.selection.ip !== listed[k]) w.select(listed[k]!);
      }}
      ontype={(k, key, value) => w.apply(edit(listed[k]!, key as Key, value as number))}
      onpaste={(k, key, cells) =>
        onlyFailing ? 'Show all rows to paste: the ones between would be passed over.' : paste(k, key, cells)}
      ondelete={(chosen) => remove(chosen.map((k) => listed[k]!))}
    />
  </div>
</div>

<style>
  .ips {
    /* Its size is its own: figures that change in it move nothing else. */
    contain: strict;
    display: flex;
    flex-direction: column;
    height: 100%;
    background: var(--color-base-100);
    padding: 0 8px;
  }
  .rows {
    flex: 1;
    min-height: 0;
    overflow: auto;
    /* No row is cut in half under the heading. */
    scroll-snap-type: y mandatory;
  }
  /* Of so many only some stand in the page, and there is nothing to hold on to where they don't. */
  .rows:has(:global(.windowed)) {
    scroll-snap-type: none;
  }
  .rows :global(tbody tr[data-row]) {
    scroll-snap-align: start;
    scroll-margin-top: 23px;
  }
  /* Columns of one width, whether they are typed into or follow from others. */
  .ips :global(table) {
    table-layout: fixed;
  }
</style>
