import { upload, type Schemas } from '../../api/client';
import type { Work } from './work.svelte';

// What a file holds, read by the server: nothing of it is saved until somebody takes it.

type Fields = Record<string, string | number | boolean | null | undefined>;

async function read<T>(w: Work, what: string, file: File, fields: Fields): Promise<T> {
  const said = Object.entries(fields).flatMap(([name, value]) =>
    value === null || value === undefined || value === false ? [] : [[name, String(value)] as const],
  );
  return upload<T>(`/api/projects/${w.project!.id}/${what}`, file, file.name, Object.fromEntries(said));
}

/** Alignments, each as its IPs; `on_grid`: its coordinates are to be brought to the ground. */
export const readAlignments = (w: Work, file: File, on_grid: boolean) =>
  read<Schemas['CentrelineRead']>(w, 'centreline/read', file, { on_grid });

/** Tangents and arcs fitted to a line of a file: to the only one, or to one of several. */
export const readFitted = (w: Work, file: File, on_grid: boolean, which?: number) =>
  read<Schemas['FitOut']>(w, 'centreline/fit', file, { on_grid, which });

/** Utilities, each as its vertices. */
export const readUtilities = (w: Work, file: File, on_grid: boolean) =>
  read<Schemas['UtilitiesRead']>(w, 'centreline/utilities', file, { on_grid });

/** Boundaries, each as its vertices in plan. */
export const readBoundaries = (w: Work, file: File, on_grid: boolean) =>
  read<Schemas['BoundariesRead']>(w, 'centreline/boundaries', file, { on_grid });

/** Profiles, and the line that one of them makes on the road on screen. */
export const readProfile = <T>(w: Work, file: File, wish: Fields) =>
  read<T>(w, 'lines/read', file, { revision: w.project!.revision, road: w.road?.slot ?? 'centreline', ...wish });
