import { expect, it } from 'vitest';
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
  await latest.settled();
  expect(answered).toEqual([10, 30]);
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
  await latest.settled();
  expect(errors).toHaveLength(1);
});
