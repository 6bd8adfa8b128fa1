// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import * as client from '../../api/client';
import { Nudger } from '../actions';
import { Workspace } from './workspace.svelte';

/** A server in a few lines: one project with one line of three IPs; levels move, nothing else does. */
class Server {
  revision = 5;
  level = 110;
  conflict = false;
  asked: client.Schemas['PreviewIn'][] = [];
  saved: client.Edit[] = [];
  search: client.Search | null = null;

  ips(level = this.level): client.Ip[] {
    const ip = (chainage_m: number, level_m: number, curve_length_m: number) =>
      ({ chainage_m, level_m, curve_length_m, held_k_m_per_pct: null }) as client.Ip;
    return [ip(0, 100, 0), ip(500, level, 80), ip(1000, 105, 0)];
  }
  project(): client.Project {
    return {
      id: 1,
      name: 'p',
      revision: this.revision,
      history: { undo: 'Move IP 1', redo: null, newest: [] },
      survey: { file_name: 's' },
      centreline: { ips: [] },
      lines: [{ slot: 'line-1', name: 'by hand', colour: 0, ips: this.ips() }],
    } as unknown as client.Project;
  }
  figures(body: client.Schemas['PreviewIn']): client.Figures {
    const edit = body.edit;
    const level = edit?.what === 'move' ? edit.level_m : this.level;
    const ledger = { cost: 10 * level, failures: 0 } as client.Ledger;
    return {
      revision: body.revision,
      ips: this.ips(level),
      ledger,
      findings: [],
      arrays: {},
    } as unknown as client.Figures;
  }
  answer(url: string, method: string, body: { base?: number; edit?: client.Edit } | null): [number, unknown] {
    if (url.endsWith('/projects/1')) return [200, this.project()];
    if (url.endsWith('/searches/newest')) return [200, { search: this.search }];
    if (method === 'POST' && body?.base !== undefined) {
      if (this.conflict || body.base !== this.revision) {
        this.conflict = false;
        this.revision += 1;
        return [409, { message: '“Limits” was saved since, elsewhere.', head: { number: this.revision } }];
      }
      if (body.edit?.what === 'length') return [422, { message: 'room for 90.00 m', field: 'curve_length_m' }];
      if (body.edit) this.saved.push(body.edit);
      if (body.edit?.what === 'move') this.level = body.edit.level_m;
      this.revision += 1;
      return [200, { revision: this.revision, slot: 'line-1', selected: body.edit ? 1 : null }];
    }
    return [404, { message: `nothing at ${url}` }];
  }
}

let server: Server;
let w: Workspace;

beforeEach(async () => {
  server = new Server();
  vi.spyOn(client, 'preview').mockImplementation(async (_p, _s, body) => {
    server.asked.push(body);
    return server.figures(body);
  });
  vi.spyOn(client, 'terrain').mockImplementation(
    async () => ({ start_m: 0, end_m: 1000, bends: [], arrays: {} }) as never,
  );
  const fetched = async (request: Request) => {
    const text = request.method === 'GET' ? '' : await request.text();
    const [status, data] = server.answer(request.url, request.method, text ? JSON.parse(text) : null);
    return new Response(JSON.stringify(data), { status, headers: { 'Content-Type': 'application/json' } });
  };
  const bound =
    (method: string) =>
    async (path: string, init: { params?: { path?: Record<string, unknown> }; body?: unknown } = {}) => {
      const url = Object.entries(init.params?.path ?? {}).reduce((u, [k, v]) => u.replace(`{${k}}`, String(v)), path);
      const body = method === 'GET' ? undefined : JSON.stringify(init.body);
      const response = await fetched(new Request(`http://localhost${url}`, { method, body }));
      const data: unknown = await response.json();
      return response.ok ? { data, response } : { error: data, response };
    };
  vi.spyOn(client.api, 'GET').mockImplementation(bound('GET') as never);
  vi.spyOn(client.api, 'POST').mockImplementation(bound('POST') as never);
  w = new Workspace();
  await w.open(1);
});
afterEach(() => vi.restoreAllMocks());

const settled = () => new Promise((r) => setTimeout(r, 5));
const move = (level_m: number): client.Edit => ({ what: 'move', ip: 1, chainage_m: 500, level_m, slide: true });

describe('a drag', () => {
  it('shows every figure of the line being tried, beside the ledger as it was', async () => {
    w.try(move(112));
    await settled();
    expect(w.figures?.ledger.cost).toBe(1120);
    expect(w.before?.cost).toBe(1100);
    expect(w.ips[1]!.level_m).toBe(112);
    expect(w.plumb).toBe(500);
    expect(server.saved).toEqual([]);
  });

  it('put back leaves nothing behind', async () => {
    w.try(move(112));
    await settled();
    w.cancel();
    await settled();
    expect([w.draft, w.before, w.figures?.ledger.cost, server.revision]).toEqual([null, null, 1100, 5]);
  });

  it('let go saves the last place once', async () => {
    for (const level of [111, 112, 113]) w.try(move(level));
    await w.keep();
    expect(server.saved).toEqual([move(113)]);
    expect([w.project?.revision, w.figures?.revision, w.figures?.ledger.cost]).toEqual([6, 6, 1130]);
    expect(w.draft).toBeNull();
  });
});

describe('a refusal', () => {
  it('is handed to the field, told, and changes nothing', async () => {
    const why = await w.apply({ what: 'length', ip: 1, curve_length_m: 900 });
    expect(why).toBe('room for 90.00 m');
    expect(w.notice).toEqual({ text: 'room for 90.00 m', bad: true });
    expect(server.revision).toBe(5);
  });
});

describe('a save elsewhere', () => {
  it('is told, nothing is overwritten, and what was saved can be shown', async () => {
    server.conflict = true;
    w.try(move(115));
    await settled();
    await w.keep();
    expect(w.conflict?.message).toContain('was saved since');
    expect(w.conflict?.ips?.[1]?.level_m).toBe(115);
    expect(server.saved).toEqual([]);
    await w.settle(false);
    expect([w.conflict, w.project?.revision, w.ips[1]?.level_m]).toEqual([null, 6, 110]);
  });

  it('can be kept beside mine', async () => {
    server.conflict = true;
    w.try(move(115));
    await settled();
    await w.keep();
    await w.settle(true);
    expect(client.api.POST).toHaveBeenLastCalledWith(
      '/api/projects/{project_id}/lines/adopted',
      expect.objectContaining({ body: expect.objectContaining({ base: 6, name: 'by hand (mine)' }) }),
    );
  });

  it('is noticed when the tab comes back to the front, but not in mid-drag', async () => {
    server.revision = 9;
    w.try(move(112));
    await w.look();
    expect(w.project?.revision).toBe(5);
    w.cancel();
    await w.look();
    expect(w.project?.revision).toBe(9);
    expect(w.notice?.text).toContain('saved elsewhere');
  });
});

describe('keys', () => {
  it('held down try, and save once when they rest', async () => {
    vi.useFakeTimers();
    const nudger = new Nudger(w);
    w.select(1);
    for (let i = 0; i < 3; i++) nudger.nudge(1, 0, 'plain');
    nudger.nudge(0, -1, 'coarse');
    await vi.advanceTimersByTimeAsync(1000);
    vi.useRealTimers();
    await settled();
    expect(server.saved).toHaveLength(1);
    expect(server.saved[0]).toMatchObject({ what: 'move', ip: 1, chainage_m: 490 });
    expect((server.saved[0] as { level_m: number }).level_m).toBeCloseTo(110.15, 9);
  });

  it('move the plumb line where no IP is selected, within the line', () => {
    const nudger = new Nudger(w);
    w.setPlumb(995);
    nudger.nudge(0, 1, 'coarse');
    expect(w.plumb).toBe(1000);
    nudger.nudge(1, 0, 'coarse');
    expect(w.draft).toBeNull();
  });
});

describe('the search', () => {
  it('is followed to its end and its line drawn over the present one', async () => {
    const offered = { ips: server.ips(107), ledger: { cost: 900 } };
    server.search = {
      id: 3,
      status: 'done',
      best_cost: 900,
      result: { offered, best: null, front: [], gap: 0.01 },
    } as unknown as client.Search;
    await w.watchSearch();
    expect(w.search?.id).toBe(3);
    expect(server.asked.at(-1)?.ips?.[1]?.level_m).toBe(107);
    expect(w.found).not.toBeNull();
  });
});
