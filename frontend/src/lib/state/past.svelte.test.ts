import { beforeEach, expect, it, vi } from 'vitest';
import * as client from '../../api/client';
import type { Case, Figured } from './figures.svelte';
import { Past, type PastState } from './past.svelte';

const state = (number: number, name = ''): PastState => ({ number, name, slots: ['line-1'] }) as PastState;
const project = { id: 1, revision: 900 } as client.Project;
const asked: Case[] = [];
let answers: PastState[][] = [];
let past: Past;

beforeEach(() => {
  asked.length = 0;
  vi.spyOn(client.api, 'GET').mockResolvedValue({} as never);
  vi.spyOn(client, 'ask').mockImplementation(async () => ({ states: answers.shift() ?? [] }) as never);
  past = new Past(
    () => ({ project, slot: 'line-1' }),
    async (of) => {
      asked.push(of);
      if (of.revision === 3) throw new Error('not there yet');
      return { of } as Figured;
    },
    async () => null,
  );
});

it('lists states in order, older ones by request, and knows whether there are more', async () => {
  answers = [
    [state(900), state(899), state(3, 'named')],
    [state(898), state(897), state(3, 'named')],
  ];
  await past.load();
  expect([past.states.map((s) => s.number), past.more]).toEqual([[3, 899, 900], true]);
  await past.earlier();
  expect(past.states.map((s) => s.number)).toEqual([3, 897, 898, 899, 900]);
});

it('steps from state to state, asks for the line as of each, and says where there was none', async () => {
  answers = [[state(900), state(899), state(3, 'named')]];
  await past.load();
  past.step(-1);
  past.step(-1);
  await vi.waitFor(() => expect(past.figures?.of.revision).toBe(899));
  past.step(-10);
  await vi.waitFor(() => expect(past.without).toBe('not there yet'));
  expect([past.at, past.figures, asked.map((c) => c.revision)]).toEqual([3, null, [900, 899, 3]]);
  past.close();
  expect([past.open, past.at]).toEqual([false, null]);
});
