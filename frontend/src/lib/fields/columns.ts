import { ROWS, type DimensionName } from '../../api/fields';
import { NotUnderstood } from '../parse';
import type { RowsKind } from '../state/rows';
import { show, understand, type Value } from '../units';

/** Columns of a grid over the rows of an input, as their fields are declared. */
export interface RowColumn {
  key: string;
  title: string;
  dimension: DimensionName;
  choices: readonly string[];
  show: (row: unknown, index: number) => string;
  edit: (row: unknown, index: number) => boolean;
}
interface Meant {
  name: string;
  dimension: DimensionName;
  label: string;
  optional: boolean;
  choices: readonly string[];
}

const YES_NO = ['yes', 'no'] as const;

/** What a cell of a grid takes: of what is so or not, yes and no. */
export const meantBy = (kind: RowsKind, key: string, value: Value): Value | boolean =>
  fieldsOfRows(kind).find((f) => f.name === key)?.dimension === 'flag' ? value === 'yes' : value;

export const fieldsOfRows = (kind: RowsKind): readonly Meant[] => ROWS[kind].fields;

export function columnsOf(kind: RowsKind, edit: (name: string, index: number) => boolean = () => true): RowColumn[] {
  return fieldsOfRows(kind).map((f) => ({
    key: f.name,
    title: f.label,
    dimension: f.dimension,
    choices: f.dimension === 'flag' ? YES_NO : f.choices,
    show: (row, i) => {
      const value = (row as Record<string, Value | boolean | null>)[f.name];
      if (typeof value === 'boolean') return edit(f.name, i) ? (value ? 'yes' : 'no') : '';
      return value === null || value === undefined || !edit(f.name, i) ? '' : show(f.dimension, value);
    },
    edit: (_, i) => edit(f.name, i),
  }));
}

/**
 * Rows with cells of a spreadsheet put over them from one cell on; new rows come in as `empty`.
 * Throws NotUnderstood with the reason.
 */
export function pasted<Row>(
  kind: RowsKind,
  rows: Row[],
  at: number,
  key: string,
  cells: string[][],
  empty: Row,
): Row[] {
  const fields = fieldsOfRows(kind);
  const first = fields.findIndex((f) => f.name === key);
  const next = rows.map((r) => ({ ...r })) as Record<string, Value>[];
  cells.forEach((line, k) => {
    while (next.length <= at + k) next.push({ ...empty } as Record<string, Value>);
    line.forEach((text, c) => {
      const field = fields[first + c];
      if (!field) throw new NotUnderstood(`There is no column for “${text.trim()}”.`);
      // An empty cell leaves what a new row has.
      if (text.trim() !== '') next[at + k]![field.name] = understand(field.dimension, text);
    });
  });
  return next as Row[];
}
