import { ApiError, type Schemas, readerHeaders } from '../../api/client';
import { KeptArrays, type Arrays } from '../../api/binary';
import type { Equation } from '../stations.svelte';

/** IPs of a centreline as they are typed, and what the server says of them; nothing here is kept. */
export type PlanRow = Schemas['CentrelineIpIn'];
export type Draft = Omit<Schemas['DraftOut'], 'arrays'> & { arrays: Arrays };
export type Body = Schemas['DraftIn'];

/** What is typed of a centreline, and of which (null: of a further one). */
export interface Kept {
  rows: PlanRow[] | null;
  start: number | null;
  name: string | null;
  meets: { start: string | null; end: string | null };
  typedEquations: Equation[] | null;
  further: boolean;
  on: string | null;
}

/** What the drawing needs of the open project. */
export interface Planned {
  id: number;
  revision: number;
  /** The centreline that is looked at. */
  saved: Schemas['CentrelineOut'] | null;
  equations: Equation[];
  /** Slot of the grade line that is looked at. */
  line: string | null;
}

export const NO_BEND = {
  radius_m: 0,
  transition_in_m: 0,
  transition_out_m: 0,
  superelevation: null,
  joins: false,
} satisfies Partial<PlanRow>;
// IPs closer than this are one: a double click is two clicks. [m]
const ONE_PLACE_M = 0.05;

/** To the millimetre. */
export const at = (v: number): number => Math.round(v * 1000) / 1000;

/** What is said of a line that can't be. */
export function told({ problem, remedies, misfits }: Draft): Partial<Draft> {
  return { problem, remedies, misfits };
}

export async function draftOf(project: number, body: Body): Promise<Draft> {
  let response: Response;
  try {
    response = await fetch(`/api/projects/${project}/centreline/draft`, {
      method: 'POST',
      headers: {
        ...readerHeaders(),
        Accept: 'application/octet-stream',
        'Content-Type': 'application/json',
      },
      body: JSON.stringify(body),
    });
    if (response.ok) return new KeptArrays().unpack<Draft>(await response.arrayBuffer());
  } catch {
    throw new ApiError(0, { message: 'The server does not answer. What is typed stays here.' });
  }
  throw new ApiError(response.status, (await response.json()) as Schemas['Problem']);
}

export function near(a: PlanRow, [e, n]: [number, number]): boolean {
  return Math.hypot(a.easting_m - e, a.northing_m - n) < ONE_PLACE_M;
}

export function cornerOf(bend: Schemas['UsualBend'] | null): Partial<PlanRow> {
  const { radius_m, transition_m } = bend ?? { radius_m: 100, transition_m: 0 };
  return { radius_m, transition_in_m: transition_m, transition_out_m: transition_m };
}

/** One more IP behind the last, which is a corner then. */
export function extended(ips: PlanRow[], [e, n]: [number, number], bend: Schemas['UsualBend'] | null): PlanRow[] {
  const next = { ...NO_BEND, easting_m: at(e), northing_m: at(n) };
  if (ips.length < 2) return [...ips, next];
  const last = { ...ips[ips.length - 1]!, ...cornerOf(bend) };
  return [...ips.slice(0, -1), last, next];
}

/** IPs whose last has no bend, as an end has none. */
export function ended(ips: PlanRow[]): PlanRow[] {
  return ips.map((row, i) => (i === 0 || i === ips.length - 1 ? { ...row, ...NO_BEND } : row));
}

/** A centreline as it is typed: its IPs, how it lies (null where it can't), whether it is saved so. */
export interface Plan {
  ips: Schemas['CentrelineIpIn'][];
  line: { e: ArrayLike<number>; n: ArrayLike<number> } | null;
  saved: boolean;
  current: number | null;
  bends: Schemas['BendRow'][];
}
