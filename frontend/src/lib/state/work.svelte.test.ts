// @vitest-environment jsdom
import { flushSync } from 'svelte';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import * as client from '../../api/client';
import { follow } from './follow.svelte';
import type { Shown } from './shown';
import { Work } from './work.svelte';

/** A page with the long section alone: the work does not ask what is drawn. */
const SHOWN: Shown = {
  tracks: [{ id: 'long', needs: ['line'] }],
  steps: ['survey', 'centreline', 'limits', 'line', 'search'].map((id) => ({ id, tracks: ['long'], map: [] })),
  long: () => ({ ratio: 1, levels: [0, 10], h: 100 }),
};

type Body = { base: number; token: string; edit?: client.Edit; limits?: Record<string, number>; ips?: client.Ip[] };

/** A server in a few lines: one project with two lines of three IPs; levels move, limits are kept, the rest is not. */
class Server {
  revision = 5;
  level = 110;
  limits: Record<string, number> = { max_grade: 0.08, min_grade: 0.005 };
  undone: number[] = [];
  /** Somebody else saves just before the next save. */
  conflict = false;
  /** How many requests find the server away. */
  away = 0;
  /** The next save is done, but its answer is lost. */
  loses = false;
  slow: Promise<void> = Promise.resolve();
  tokens = new Map<string, number>();
  asked: client.Question[] = [];
  saved: Body[] = [];
  adopted: string[] = [];
  search: client.Search | null = null;

  ips(level = this.level): client.Ip[] {
    const ip = (chainage_m: number, level_m: number, curve_length_m: number) =>
      ({ chainage_m, level_m, curve_length_m, held_k_m_per_pct: null }) as client.Ip;
    return [ip(0, 100, 0), ip(500, level, 80), ip(1000, 105, 0)];
  }
  project(): client.Project {
    const line = (slot: string) => ({ slot, road: 'centreline', name: slot, colour: 0, ips: this.ips() });
    return {
      id: 1,
      name: 'p',
      revision: this.revision,
      history: { undo: 'Move IP 1', redo: null, newest: [] },
      surveys: [{ file_name: 's', point_count: 3 }],
      centrelines: [{ slot: 'centreline', name: 'main road', still_key: 'k', start_chainage_m: 0, ips: [] }],
      limits: this.limits,
      lines: [line('line-1'), line('line-2')],
    } as unknown as client.Project;
  }
  figures(q: client.Question): client.Answer {
    const moves = q.edits.filter((e) => e.what === 'move');
    const level = moves.at(-1)?.level_m ?? this.level;
    const products = {
      line: { ips: this.ips(level), turning_points: [] },
      ledger: { cost: 10 * level, failures: 0 },
      uses: { uses: [], findings: [] },
      ground: { start_m: 0, end_m: 1000, bends: [], points: 3, triangles: 1 },
      plan: { origin: [0, 0], contour_interval_m: 1 },
      strip: { contour_interval_m: 1, levels: [], lengths: [] },
    };
    return { revision: q.revision, slot: q.slot, stopped: null, products, arrays: {} } as unknown as client.Answer;
  }
  save(url: string, body: Body): [number, unknown] {
    if (url.endsWith('/ways')) return [200, { reason: null, ways: [] }];
    const again = this.tokens.get(body.token);
    if (again !== undefined && again === body.base + 1) return [200, this.answer(body)];
    if (this.conflict || body.base !== this.revision) {
      this.conflict = false;
      this.revision += 1;
      return [409, { message: '“Limits” was saved since, elsewhere.', head: { number: this.revision } }];
    }
    if (body.edit?.what === 'length') return [422, { message: 'room for 90.00 m', field: 'curve_length_m' }];
    this.saved.push(body);
    if (body.edit?.what === 'move') {
      this.undone.push(this.level);
      this.level = body.edit.level_m;
    }
    if (url.endsWith('/undo')) this.level = this.undone.pop() ?? this.level;
    if (body.limits) this.limits = body.limits;
    if (url.endsWith('/adopted')) this.adopted.push((body as unknown as { name: string }).name);
    this.revision += 1;
    this.tokens.set(body.token, this.revision);
    return [200, this.answer(body)];
  }
  answer(body: Body): unknown {
    return { revision: this.revision, project: this.project(), slot: null, selected: body.edit ? 1 : null };
  }
}

let server: Server;
let w: Work;
let stop: () => void;

const settled = (ms = 5) => new Promise((r) => setTimeout(r, ms)).then(() => flushSync());
const move = (level_m: number): client.Edit => ({ what: 'move', ip: 1, chainage_m: 500, level_m, slide: true });
const limit = (name: string, value: number) =>
  w.save({
    what: name,
    send: ({ path, base, token, project }) => {
      const limits = { ...(project.limits as object), [name]: value } as never;
      const call = client.api.PUT('/api/projects/{project_id}/limits', {
        params: { path },
        body: { base, token, limits },
      });
      return client.ask(call);
    },
  });

beforeEach(async () => {
  // What one test leaves typed is none of the next one's.
  localStorage.clear();
  server = new Server();
  vi.spyOn(client, 'figures').mockImplementation(async (_p, q) => {
    if (server.away > 0) {
      server.away -= 1;
      throw new client.ApiError(0, { message: 'away' });
    }
    server.asked.push({ some_m: [], ...q, units: 'metric', have: [], upon: null });
    return server.figures({ some_m: [], ...q, units: 'metric', have: [], upon: null });
  });
  const bound =
    (method: string) =>
    async (path: string, init: { params?: { path?: Record<string, unknown> }; body?: Body } = {}) => {
      const url = Object.entries(init.params?.path ?? {}).reduce((u, [k, v]) => u.replace(`{${k}}`, String(v)), path);
      await server.slow;
      if (server.away > 0) {
        server.away -= 1;
        throw new TypeError('failed to fetch');
      }
      const [status, data] =
        method === 'GET'
          ? url.endsWith('/newest')
            ? [200, { search: server.search }]
            : [200, server.project()]
          : server.save(url, structuredClone(init.body!));
      if (server.loses && method !== 'GET') {
        server.loses = false;
        throw new TypeError('cut off in its body');
      }
      const response = new Response(null, { status });
      return status < 400 ? { data, response } : { error: data, response };
    };
  for (const method of ['GET', 'POST', 'PUT'] as const)
    vi.spyOn(client.api, method).mockImplementation(bound(method) as never);
  w = new Work(SHOWN);
  stop = $effect.root(() => follow(w));
  await w.open(1);
  await settled();
});
afterEach(() => {
  stop();
  w.close();
  vi.restoreAllMocks();
});

describe('a drag', () => {
  it('shows every figure of the line being tried, beside the ledger as it was', async () => {
    w.try(move(112));
    await settled();
    expect([w.ledger?.cost, w.trial.before?.cost, w.ips[1]!.level_m]).toEqual([1120, 1100, 112]);
    expect([w.selection.plumb, server.saved.length, w.state]).toEqual([500, 0, 'trying']);
  });

  it('put back is not called saved before the figures are those of what is saved', async () => {
    w.try(move(112));
    await settled();
    w.cancel();
    flushSync();
    expect([w.state, w.fresh, w.ledger?.cost]).toEqual(['following', false, 1120]);
    await settled();
    expect([w.state, w.ledger?.cost, server.revision]).toEqual(['saved', 1100, 5]);
  });

  it('let go saves the last place once, and its figures stand on', async () => {
    for (const level of [111, 112, 113]) w.try(move(level));
    await w.trial.keep();
    await settled();
    expect(server.saved.map((b) => b.edit)).toEqual([move(113)]);
    expect([w.project?.revision, w.state, w.ledger?.cost, w.trial.draft]).toEqual([6, 'saved', 1130, null]);
  });

  it('begun while a save is under way is not wiped by it, and goes on top of it', async () => {
    let answer = () => {};
    server.slow = new Promise((r) => (answer = r));
    w.try(move(112));
    const first = w.trial.keep();
    const second: client.Edit = { what: 'k', ip: 1, k_m_per_pct: 20 };
    w.try(second);
    await settled();
    expect(server.asked.findLast((q) => q.want.includes('ledger'))?.edits).toEqual([move(112), second]);
    answer();
    await first;
    await settled();
    expect(w.trial.draft).toEqual(second);
    await w.trial.keep();
    expect(server.saved.map((b) => b.edit?.what)).toEqual(['move', 'k']);
  });

  it('released while the server is away is kept, said not to be saved, and sent when it is back', async () => {
    w.try(move(117));
    // Until the hand rests and the section has followed: the next question is the save.
    await settled(120);
    server.away = 1;
    const kept = w.trial.keep();
    await settled(20);
    expect([w.state, w.store.away, w.store.pending('line-1')]).toEqual(['waiting', true, [move(117)]]);
    await kept;
    await settled(30);
    expect([server.level, w.store.away, w.state]).toEqual([117, false, 'saved']);
  }, 10_000);
});

describe('saving', () => {
  it('two at once from one tab never conflict with themselves', async () => {
    const both = await Promise.all([w.apply(move(111)), limit('max_grade', 0.09), w.apply(move(112))]);
    expect(both).toEqual([null, null, null]);
    expect(server.saved.map((b) => b.base)).toEqual([5, 6, 7]);
  });

  it('of a change whose answer was lost is done once', async () => {
    server.loses = true;
    expect(await w.apply(move(119))).toBeNull();
    expect([server.revision, server.saved.length, w.project?.revision]).toEqual([6, 1, 6]);
  }, 10_000);

  it('hands a refusal to the field it came from and tells it nowhere else', async () => {
    const why = await w.apply({ what: 'length', ip: 1, curve_length_m: 900 });
    expect([why, w.notices.shown, server.revision]).toEqual(['room for 90.00 m', null, 5]);
    await w.act(w.apply({ what: 'length', ip: 1, curve_length_m: 900 }));
    await settled();
    expect(w.notices.shown).toEqual({ text: 'room for 90.00 m', bad: true });
  });
});

describe('leaving the project', () => {
  it('loses neither a nudge nor what waits in the queue', async () => {
    server.away = 1;
    void w.apply(move(111));
    w.select(1);
    w.nudge(0, 0.05);
    w.close();
    await settled(1500);
    expect(server.saved.map((b) => b.edit?.what)).toEqual(['move', 'move']);
  }, 10_000);
});

describe('a nudge', () => {
  const nudged = () => {
    w.select(1);
    w.nudge(0, 0.05);
    w.nudge(0, 0.05);
  };

  it('is saved once when the keys rest', async () => {
    nudged();
    expect(server.saved).toEqual([]);
    await settled(500);
    expect(server.saved).toHaveLength(1);
    expect((server.saved[0]!.edit as { level_m: number }).level_m).toBeCloseTo(110.1, 9);
  });

  it('followed by undo takes itself back and not the edit before', async () => {
    await w.apply(move(115));
    nudged();
    await w.turn('undo');
    expect(server.level).toBe(115);
    expect(server.saved.map((b) => b.edit?.what)).toEqual(['move', 'move', undefined]);
  });

  it('followed by another line, another IP or another step is not lost', async () => {
    for (const go of [() => w.choose('line-2'), () => w.select(0), () => w.goToStep('limits')]) {
      const before = server.saved.length;
      w.choose('line-1');
      nudged();
      go();
      await settled();
      expect(server.saved.length).toBe(before + 1);
    }
  });
});

describe('a save elsewhere', () => {
  it('leaves the refused edit here: on top, beside, or dropped', async () => {
    server.conflict = true;
    await w.apply(move(115));
    expect(w.store.conflict?.change.edit?.edit).toEqual(move(115));
    expect(server.saved).toEqual([]);
    await w.settle('again');
    expect([server.level, w.project?.revision, w.store.conflict]).toEqual([115, 7, null]);
    server.conflict = true;
    await w.apply(move(116));
    await w.settle('beside');
    expect(server.adopted).toEqual(['line-1 (mine)']);
    server.conflict = true;
    await w.apply(move(118));
    await w.settle('theirs');
    await settled();
    expect([w.ips[1]!.level_m, w.store.conflict]).toEqual([115, null]);
  });

  it('of limits offers the limits again and no grade line, and keeps what the other saved', async () => {
    server.conflict = true;
    const why = await limit('max_grade', 0.07);
    expect(why).toContain('was saved since');
    expect(w.store.conflict?.change).toMatchObject({ what: 'max_grade' });
    expect(w.store.conflict?.change.line).toBeUndefined();
    server.limits = { ...server.limits, min_grade: 0.01 };
    await w.settle('again');
    expect(server.limits).toEqual({ max_grade: 0.07, min_grade: 0.01 });
  });

  it('is noticed when the tab comes back to the front, but not in mid-drag', async () => {
    server.revision = 9;
    w.try(move(112));
    await w.look();
    expect(w.project?.revision).toBe(5);
    w.cancel();
    await w.look();
    expect([w.project?.revision, w.notices.shown?.text]).toEqual([9, 'Shown as saved elsewhere since.']);
  });
});

describe('what is typed in the centreline', () => {
  it('stays while another step is looked at', () => {
    const d = w.drawing;
    d.append(1, 2);
    w.goToStep('limits');
    w.goToStep('centreline');
    expect(d.rows).toHaveLength(1);
    const rows = d.rows;
    d.move(0, 7.5, 8);
    expect(d.rows![0]).toMatchObject({ easting_m: 7.5, northing_m: 8, radius_m: 0 });
    // What was drawn before is not written to.
    expect(rows![0]!.easting_m).toBe(1);
  });

  it('is undone step by step, a drag as one, and only in its own step', async () => {
    const d = w.drawing;
    w.goToStep('centreline');
    for (const at of [0, 100, 200]) d.append(at, 0);
    // A corner has a bend, an end has none; a double click is one place.
    d.append(200.01, 0);
    expect(d.rows!.map((r) => r.radius_m)).toEqual([0, 100, 0]);
    d.take(1);
    for (let n = 1; n < 20; n++) d.move(1, 100, n);
    d.release();
    await w.turn('undo');
    expect(d.rows![1]!.northing_m).toBe(0);
    await w.turn('redo');
    expect(d.rows![1]!.northing_m).toBe(19);
    d.takeBack();
    expect(d.rows!.map((r) => r.radius_m)).toEqual([0, 0]);
    const steps = [await w.turn('undo'), await w.turn('undo'), await w.turn('undo'), await w.turn('undo')];
    expect([steps.length, d.rows?.length]).toEqual([4, 1]);
    await w.turn('undo');
    expect([d.rows, d.dirty, w.turns[1]]).toEqual([null, false, true]);
  });
});

describe('the search', () => {
  const found = (status: string) => {
    const result = { offered: { ips: server.ips(107), ledger: { cost: 900 } }, best: null, front: [], gap: 0.01 };
    return { id: 3, status, best_cost: 900, result } as unknown as client.Search;
  };

  it('is followed to its end through a look that fails, and its line drawn', async () => {
    w.goToStep('search');
    server.search = found('running');
    await w.jobs.follow(1);
    server.away = 1;
    await settled(400);
    server.search = found('done');
    await settled(2000);
    expect(w.jobs.job?.status).toBe('done');
    expect(server.asked.some((q) => q.ips?.[1]?.level_m === 107)).toBe(true);
    expect(w.over.found).not.toBeNull();
  }, 10_000);
});
