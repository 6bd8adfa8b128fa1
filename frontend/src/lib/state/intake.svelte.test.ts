import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import * as client from '../../api/client';
import { Intake } from './intake.svelte';
import { Notices } from './notices.svelte';

const PIECE = 4;
let sent: string[] = [];
let there: Set<number>;
let lost = 0;
let imports: Record<string, unknown>[] = [];
let job: Record<string, unknown> | null = null;

const upload = () => ({
  id: 7,
  size: 10,
  received: [...there].reduce((n, k) => n + (k === 2 ? 2 : 4), 0),
  piece_bytes: PIECE,
});
const response = new Response();

beforeEach(() => {
  [sent, there, lost, imports, job] = [[], new Set(), 0, [], null];
  vi.spyOn(client, 'upload').mockImplementation(async (url) => {
    const number = Number(url.split('/').at(-1));
    sent.push(`piece ${number}`);
    if (number === 1 && lost-- > 0) throw new client.ApiError(503, { message: 'away' });
    there.add(number);
    return upload() as never;
  });
  vi.spyOn(client.api, 'GET').mockImplementation((async () => ({ data: { job }, response })) as never);
  vi.spyOn(client.api, 'POST').mockImplementation((async (url: string, { body }: { body: unknown }) => {
    if (url.endsWith('/uploads')) return { data: upload(), response };
    if (url.endsWith('/look')) {
      sent.push(`look ${[...there].sort().join('')}`);
      return { data: { reader: 'text', layout: { roles: [] }, parts: [], unit: 'metre', problem: null }, response };
    }
    imports.push(body as Record<string, unknown>);
    return { data: { id: 3 }, response };
  }) as never);
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const file = () => new File(['0123456789'], 'a.csv');

describe('a file on its way in', () => {
  it('is looked at by its ends, sent again where the server is away, and read once it is whole', async () => {
    const saved: number[] = [];
    const intake = new Intake(new Notices(), async (revision) => void saved.push(revision));
    lost = 2;
    await intake.choose(1, file(), 'alone');
    await vi.advanceTimersByTimeAsync(100);
    expect(sent.slice(0, 4)).toEqual(['piece 0', 'piece 2', 'piece 1', 'look 02']);
    expect([intake.whole, intake.seen?.reader]).toEqual([false, 'text']);
    const accepted = intake.accept(1, 5);
    await vi.advanceTimersByTimeAsync(500);
    // It waits for the rest.
    expect(imports).toEqual([]);
    job = { id: 3, status: 'running', result: null };
    await vi.advanceTimersByTimeAsync(1500);
    await accepted;
    expect(sent.filter((s) => s === 'piece 1')).toHaveLength(3);
    expect(imports[0]).toMatchObject({ revision: 5, upload_id: 7, joins: 'alone', longest_edge_m: null });
    expect([intake.seen, intake.live]).toEqual([null, true]);
    job = { id: 3, status: 'done', result: { revision: 6, summary: {} } };
    await vi.advanceTimersByTimeAsync(700);
    expect([saved, intake.told?.id, intake.live]).toEqual([[6], 3, false]);
    intake.close();
  });

  it('is told of where its import was through before anybody looked', async () => {
    const saved: number[] = [];
    const intake = new Intake(new Notices(), async (revision) => void saved.push(revision));
    // Another one from before is no news.
    job = { id: 2, status: 'done', result: { revision: 4, summary: {} } };
    await intake.follow(1);
    await intake.choose(1, file(), 'alone');
    job = { id: 3, status: 'done', result: { revision: 6, summary: {} } };
    await vi.advanceTimersByTimeAsync(100);
    await intake.accept(1, 5);
    await vi.advanceTimersByTimeAsync(2000);
    expect([saved, intake.told?.id]).toEqual([[6], 3]);
    intake.close();
  });

  it('is read once more as it was read, without taking the other surveys away', async () => {
    const intake = new Intake(new Notices(), async () => {});
    const survey = {
      slot: 'survey-1',
      file_name: 'a.csv',
      upload_id: 7,
      joins: 'alone',
      longest_edge_m: 20,
      within_m: null,
      thinned_m: 0.1,
      on_grid: true,
    };
    await intake.again(1, survey as never, true);
    expect(intake.wishes).toEqual({
      longest_edge_m: 20,
      joins: 'adds',
      within_m: null,
      thin_m: 0.1,
      on_grid: true,
      instead: 'survey-1',
    });
    await intake.again(1, survey as never, false);
    expect(intake.wishes.joins).toBe('alone');
    expect([intake.whole, intake.seen?.reader]).toEqual([true, 'text']);
    intake.close();
  });

  it('is forgotten when it is put aside, whatever still comes of it', async () => {
    const intake = new Intake(new Notices(), async () => {});
    lost = 50;
    await intake.choose(1, file(), 'adds');
    intake.putAside();
    await vi.advanceTimersByTimeAsync(3000);
    expect([intake.seen, intake.sent, intake.problem]).toEqual([null, null, null]);
    expect(sent.filter((s) => s === 'piece 1').length).toBeLessThan(3);
    intake.close();
  });
});
