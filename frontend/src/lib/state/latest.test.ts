import { expect, it, vi } from 'vitest';
import { ApiError } from '../../api/client';
import { Latest } from './latest';

it('asks one at a time, skips what was overtaken, and always answers the newest wish', async () => {
  const asked: number[] = [];
  const answered: number[] = [];
  const gates: (() => void)[] = [];
  const latest = new Latest<number, number>(
    (q) => {
      asked.push(q);
      return new Promise((done) => gates.push(() => done(10 * q)));
    },
    (a) => answered.push(a),
    () => undefined,
  );
  for (const q of [1, 2, 3]) latest.want(q);
  expect(asked).toEqual([1]);
  gates[0]!();
  await new Promise((r) => setTimeout(r));
  expect(asked).toEqual([1, 3]);
  gates[1]!();
  await vi.waitFor(() => expect(answered).toEqual([10, 30]));
});

it('goes on after an error', async () => {
  const errors: unknown[] = [];
  const latest = new Latest<number, number>(
    (q) => (q === 1 ? Promise.reject(new Error('no')) : Promise.resolve(q)),
    () => undefined,
    (e) => errors.push(e),
  );
  latest.want(1);
  latest.want(2);
  await vi.waitFor(() => expect(errors).toHaveLength(1));
});

it('asks again for the same while the server is away', async () => {
  let away = 1;
  const answered: number[] = [];
  const latest = new Latest<number, number>(
    (q) => (away-- > 0 ? Promise.reject(new ApiError(503, { message: 'a moment' })) : Promise.resolve(q)),
    (a) => answered.push(a),
    () => answered.push(NaN),
  );
  latest.want(7);
  await vi.waitFor(() => expect(answered).toEqual([7]), 3000);
});
