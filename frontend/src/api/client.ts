import createClient from 'openapi-fetch';
import { unpack, type Arrays } from './binary';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type Project = Schemas['ProjectOut'];
export type Ip = Schemas['IpOut'];
export type Edit = Schemas['EditIn']['edit'];
export type Ledger = Schemas['LedgerOut'];
export type Finding = Schemas['FindingOut'];
export type Section = Schemas['SectionOut'];
export type Figures = Omit<Schemas['PreviewOut'], 'arrays'> & { arrays: Arrays };
export type Terrain = Omit<Schemas['TerrainOut'], 'arrays'> & { arrays: Arrays };
/** Only the message is always there. */
export type Problem = Partial<Schemas['Problem']> & { message: string };
export type Search = Schemas['SearchOut'];

/** What the server says is wrong: in which field, which step comes first, or what was saved since. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.message);
  }
}

export const api = createClient<paths>({ baseUrl: '/' });

const UNREACHABLE = {
  message: 'The server does not answer. What was saved is kept; this goes on as soon as it is back.',
};

/** The data of an answer, or an ApiError. */
export async function ask<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch {
    throw new ApiError(0, UNREACHABLE);
  }
  if (answer.data === undefined || !answer.response.ok) {
    const problem = (answer.error ?? {
      message: `The server answered ${answer.response.status}.`,
    }) as Problem;
    throw new ApiError(answer.response.status, problem);
  }
  return answer.data;
}

async function binary<T>(url: string, body?: unknown): Promise<T & { arrays: Arrays }> {
  let response: Response;
  const headers: Record<string, string> = { Accept: 'application/octet-stream' };
  if (body !== undefined) headers['Content-Type'] = 'application/json';
  try {
    response = await fetch(url, {
      headers,
      ...(body === undefined ? {} : { method: 'POST', body: JSON.stringify(body) }),
    });
  } catch {
    throw new ApiError(0, UNREACHABLE);
  }
  if (!response.ok) throw new ApiError(response.status, (await response.json()) as Problem);
  return unpack<T>(await response.arrayBuffer());
}

export function preview(project: number, slot: string, body: Schemas['PreviewIn']): Promise<Figures> {
  return binary(`/api/projects/${project}/lines/${slot}/preview`, body);
}

export function terrain(project: number, revision: number): Promise<Terrain> {
  return binary(`/api/projects/${project}/terrain?revision=${revision}`);
}

/** A file with its fields, as a form. */
export async function upload<T>(url: string, file: Blob, name: string, fields: Record<string, string>): Promise<T> {
  const form = new FormData();
  form.append('file', file, name);
  for (const [key, value] of Object.entries(fields)) form.append(key, value);
  let response: Response;
  try {
    response = await fetch(url, { method: 'POST', body: form });
  } catch {
    throw new ApiError(0, UNREACHABLE);
  }
  const answer: unknown = await response.json();
  if (!response.ok) throw new ApiError(response.status, answer as Problem);
  return answer as T;
}
