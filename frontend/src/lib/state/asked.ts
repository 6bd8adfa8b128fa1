import { KeptArrays, type Arrays } from '../../api/binary';
import { api, ask, type Project } from '../../api/client';
import type { paths } from '../../api/schema';
import type { SheetName, System, TableName } from '../../api/fields';
import { system } from '../system.svelte';

/** What is asked of the server and kept by nobody but who asks. */

export const projectsListed = async () => (await ask(api.GET('/api/projects'))).projects;

/** A new project; its number. */
export const newProject = async (name: string, units: System) =>
  (await ask(api.POST('/api/projects', { body: { name, units } }))).id;

export const projectAsked = (id: number): Promise<Project> =>
  ask(api.GET('/api/projects/{project_id}', { params: { path: { project_id: id } } }));

/** What the list shows of a project. */
export const glanceOf = (id: number) =>
  ask(api.GET('/api/projects/{project_id}/glance', { params: { path: { project_id: id } } }));

export const summaryOf = (id: number, slot: string, revision: number) =>
  ask(
    api.GET('/api/projects/{project_id}/lines/{slot}/summary', {
      params: { path: { project_id: id, slot }, query: { revision, units: system() } },
    }),
  );

/** What a stretch costs more, or less, further to the right (below zero: left). */
export const shiftCost = (id: number, slot: string, revision: number, from_m: number, to_m: number, aside_m: number) =>
  ask(
    api.GET('/api/projects/{project_id}/lines/{slot}/shift', {
      params: { path: { project_id: id, slot }, query: { revision, from_m, to_m, aside_m } },
    }),
  );

type SheetWish = paths['/api/projects/{project_id}/sheets/{sheet}']['get']['parameters']['query'];

/** What each page of a sheet shows. */
export const sheetPages = async (id: number, sheet: SheetName, query: SheetWish) =>
  (
    await ask(
      api.GET('/api/projects/{project_id}/sheets/{sheet}', { params: { path: { project_id: id, sheet }, query } }),
    )
  ).pages;

/** How a survey was read. */
export const surveySummary = async (id: number, slot: string, revision: number) =>
  (
    await ask(
      api.GET('/api/projects/{project_id}/surveys/{slot}/summary', {
        params: { path: { project_id: id, slot }, query: { revision } },
      }),
    )
  ).summary;

/** Reference systems by a part of their name. */
export const systemsKnown = async (id: number, text: string, vertical: boolean) =>
  (
    await ask(
      api.GET('/api/projects/{project_id}/coordinates/known', {
        params: { path: { project_id: id }, query: { text, vertical } },
      }),
    )
  ).systems;

// Starting values

export const standardsKnown = async () => (await ask(api.GET('/api/standards'))).standards;

/** Keep a table of the office's own; its name in addresses. */
export const keepStandard = async (name: string, text: string) =>
  (await ask(api.POST('/api/standards', { body: { name, text } }))).id;

export const forgetStandard = (standard: string) =>
  ask(api.DELETE('/api/standards/{standard}', { params: { path: { standard } } }));

type OfRoad = Omit<paths['/api/standards/{standard}/offered']['get']['parameters']['query'], 'units'>;

/** The starting values of a standard for a road. */
export const valuesOffered = async (standard: string, road: OfRoad) =>
  (
    await ask(
      api.GET('/api/standards/{standard}/offered', {
        params: { path: { standard }, query: { ...road, units: system() } },
      }),
    )
  ).values;

// Tables

export interface TableWish {
  revision: number;
  road?: string;
  interval_m?: number;
  critical?: boolean;
  offsets?: string;
  slot?: string;
}

/** The first rows of a table. */
export const tableShown = (id: number, table: TableName, wish: TableWish) =>
  ask(
    api.GET('/api/projects/{project_id}/centreline/tables/{table}', {
      params: { path: { project_id: id, table }, query: { ...wish, units: system() } },
    }),
  );

/** Where all of a table is, as a file. */
export function tableAddress(id: number, table: TableName, form: 'csv' | 'tsv' | 'xlsx', wish: TableWish): string {
  const said = Object.entries({ form, units: system(), ...wish }).filter(([, v]) => v !== undefined);
  const query = new URLSearchParams(said.map(([k, v]) => [k, String(v)]));
  return `/api/projects/${id}/centreline/tables/${table}/file?${query}`;
}

/** All of a table with tabs between its cells: what a spreadsheet takes. */
export async function tableText(id: number, table: TableName, wish: TableWish): Promise<string> {
  return (await answered(tableAddress(id, table, 'tsv', wish))).text();
}

async function answered(address: string, init?: RequestInit): Promise<Response> {
  const answer = await fetch(address, init);
  if (!answer.ok) throw new Error(((await answer.json()) as { message: string }).message);
  return answer;
}

/** The ground of a box for the look from above. */
export async function birdsEye(project: number, revision: number, box: number[]) {
  const [west, south, east, north] = box.map(String) as [string, string, string, string];
  const query = new URLSearchParams({
    revision: String(revision),
    west_m: west,
    south_m: south,
    east_m: east,
    north_m: north,
  });
  const headers = { Accept: 'application/octet-stream' };
  const answer = await answered(`/api/projects/${project}/land/birds-eye?${query}`, { headers });
  const found = new KeptArrays().unpack<{ middle: number[]; whole: boolean }>(await answer.arrayBuffer());
  return found as { middle: number[]; whole: boolean; arrays: Arrays };
}
