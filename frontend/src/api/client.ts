import createClient from 'openapi-fetch';
import { KeptArrays, type Arrays } from './binary';
import { OpenLine, type LineAnswer } from './line';
import { system } from '../lib/system.svelte';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type Project = Schemas['ProjectOut'];
export type Ip = Schemas['IpFigures'];
export type Edit = Schemas['EditIn']['edit'];
export type Ledger = Schemas['LedgerFigures'];
export type Finding = Schemas['Finding'];
export type Use = Schemas['LimitUse'];
export type Section = Schemas['SectionFigures'];
export type Question = Schemas['Question'];
export type Products = Schemas['Products'];
export type Answer = Omit<Schemas['FiguresOut'], 'arrays'> & { arrays: Arrays };
export type Saved = Schemas['Saved'];
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

  /** The server, or its database, is away for a moment: the same can be asked again. */
  get away(): boolean {
    return this.status === 0 || this.status === 502 || this.status === 503 || this.status === 504;
  }
}

export const api = createClient<paths>({ baseUrl: '/' });

/** What the server's sentences are to be in. */
export const readerHeaders = (): Record<string, string> => ({ 'X-Delgrun-Units': system() });

api.use({
  onRequest({ request }) {
    for (const [name, value] of Object.entries(readerHeaders())) request.headers.set(name, value);
  },
});

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
    const problem = (answer.error || {
      message: `The server answered ${answer.response.status}.`,
    }) as Problem;
    throw new ApiError(answer.response.status, problem);
  }
  return answer.data;
}

/** An answer in JSON, whatever becomes of it on the way. */
async function json(response: Response): Promise<unknown> {
  try {
    return await response.json();
  } catch {
    throw new ApiError(0, UNREACHABLE);
  }
}

const line = new OpenLine();

/** What is asked at every move of a hand goes by the open line, if there is one; what was cut off there, by a request. */
async function sent(path: string, body: string, live: boolean): Promise<LineAnswer> {
  const answer = live && line.free ? await line.ask(path, system(), body) : null;
  if (answer) return answer;
  const response = await fetch(path, {
    method: 'POST',
    headers: { ...readerHeaders(), Accept: 'application/octet-stream', 'Content-Type': 'application/json' },
    body,
  });
  return { status: response.status, data: await response.arrayBuffer(), from: 0 };
}

const problemIn = ({ data, from }: LineAnswer) =>
  JSON.parse(new TextDecoder().decode(new Uint8Array(data, from))) as Problem;

/** What is asked of a case; chainages of several sections only where those are wanted. */
export type Asked = Omit<Question, 'have' | 'units' | 'upon' | 'some_m'> & Partial<Pick<Question, 'some_m'>>;

/** Ask for products of a case; arrays that are kept are not sent again. */
export async function figures(project: number, question: Asked, kept: KeptArrays): Promise<Answer> {
  const body = JSON.stringify({ ...question, units: system(), have: kept.have, upon: kept.upon });
  let answer: LineAnswer;
  try {
    answer = await sent(`/api/projects/${project}/figures`, body, kept.follows);
    if (answer.status !== 200) throw new ApiError(answer.status, problemIn(answer));
  } catch (error) {
    throw error instanceof ApiError ? error : new ApiError(0, UNREACHABLE);
  }
  return kept.unpack<Answer>(answer.data, answer.from);
}

/** A file with its fields, as a form. */
export async function upload<T>(url: string, file: Blob, name: string, fields: Record<string, string>): Promise<T> {
  const form = new FormData();
  form.append('file', file, name);
  for (const [key, value] of Object.entries(fields)) form.append(key, value);
  let response: Response;
  try {
    response = await fetch(url, { method: 'POST', headers: readerHeaders(), body: form });
  } catch {
    throw new ApiError(0, UNREACHABLE);
  }
  const answer = await json(response);
  if (!response.ok) throw new ApiError(response.status, answer as Problem);
  return answer as T;
}

/** What an IP has as long as nothing else is said of its curve. */
export const PLAIN_CURVE = {
  curve_length_m: 0,
  held_k_m_per_pct: null,
  shape: 'parabola',
  in_share: null,
  held: 'length',
  held_m: null,
  held_level_m: null,
  step_m: 0,
  locked_chainage_m: null,
  locked_level_m: null,
  locked_grade: null,
  held_eye_m: null,
  held_object_m: null,
  held_headlight_m: null,
  held_headlight_deg: null,
} satisfies Partial<Schemas['IpIn']>;

/** IPs as they are typed and sent, without what follows from them; what an older search does not say of them is plain. */
export function typedIps(ips: Schemas['IpIn'][]): Schemas['IpIn'][] {
  const keys = Object.keys(PLAIN_CURVE) as (keyof typeof PLAIN_CURVE)[];
  return ips.map((ip) => ({
    chainage_m: ip.chainage_m,
    level_m: ip.level_m,
    ...(Object.fromEntries(keys.map((key) => [key, ip[key] ?? PLAIN_CURVE[key]])) as typeof PLAIN_CURVE),
  }));
}
