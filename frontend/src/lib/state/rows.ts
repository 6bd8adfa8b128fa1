import { api, ask, type Saved } from '../../api/client';
import { ROWS } from '../../api/fields';

export type RowsKind = keyof typeof ROWS;
import type { Work } from './work.svelte';

/** The rows of an input as a project has them. */
export function rowsOf<Row>(kind: RowsKind, project: object | null): Row[] {
  const { kind: of, name } = ROWS[kind];
  return (project as Record<string, Record<string, Row[]> | null> | null)?.[of]?.[name] ?? [];
}

/** Save the rows of an input with one change made to them as they are by then. */
export function changeRows<Row>(
  w: Work,
  kind: RowsKind,
  what: string,
  make: (rows: Row[]) => Row[],
): Promise<string | null> {
  return w.save({
    what,
    send: ({ path, base, token, project }) => {
      const { kind: of, name } = ROWS[kind];
      const url = `/api/projects/{project_id}/${of}` as '/api/projects/{project_id}/cost';
      const rest = (project as unknown as Record<string, object | null>)[of];
      const input = { [of]: { ...rest, [name]: make(rowsOf<Row>(kind, project)) } };
      return ask<Saved>(api.PUT(url, { params: { path }, body: { base, token, ...input } as never }));
    },
  });
}
