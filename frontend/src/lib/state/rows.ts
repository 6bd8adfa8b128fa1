import { api, ask, type Project, type Saved } from '../../api/client';
import { INPUTS, ROWS } from '../../api/fields';
import type { Work } from './work.svelte';

export type RowsKind = keyof typeof ROWS;
/** Inputs that a project has one of. */
export type InputKind = keyof typeof INPUTS & keyof Project;

/** Save an input with a change made to it as it is by then: what somebody else saved of it meanwhile stays. */
export function changeInput<K extends InputKind>(
  w: Work,
  kind: K,
  what: string,
  make: (now: NonNullable<Project[K]>, project: Project) => object,
): Promise<string | null> {
  return w.save({
    what,
    send: ({ path, base, token, project }) => {
      const url = `/api/projects/{project_id}/${kind}` as '/api/projects/{project_id}/cost';
      const input = { [kind]: make(project[kind] as NonNullable<Project[K]>, project) };
      return ask<Saved>(api.PUT(url, { params: { path }, body: { base, token, ...input } as never }));
    },
  });
}

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
  const { kind: of, name } = ROWS[kind];
  return changeInput(w, of as InputKind, what, (now, project) => ({
    ...(now as object | null),
    [name]: make(rowsOf<Row>(kind, project)),
  }));
}
