import { expect, it } from 'vitest';
import { snapped, type SnapTo } from './snap';

const to: SnapTo = {
  chainages: [
    [100, 'bend'],
    [110, 'round'],
  ],
  levels: (at) => [
    [at / 10, 'ground'],
    [NaN, 'no line'],
  ],
};
const per = { along: 2, up: 10 };
const free = { chainage: true, level: true };

it('goes to the nearest chainage, then to a level there, if they are near on screen', () => {
  expect(snapped({ chainage_m: 103, level_m: 10.4 }, to, per, free)).toEqual({
    chainage_m: 100,
    level_m: 10,
    says: 'bend, ground',
  });
  // 107 is 6 px from 110; 12.0 is 10 px from the 11.0 that the ground has there.
  expect(snapped({ chainage_m: 107, level_m: 12 }, to, per, free)).toEqual({
    chainage_m: 110,
    level_m: 12,
    says: 'round',
  });
  expect(snapped({ chainage_m: 105, level_m: 50 }, to, per, free).says).toBe('');
});

it('leaves alone what may not change', () => {
  const only = { chainage: false, level: true };
  expect(snapped({ chainage_m: 101, level_m: 10 }, to, per, only)).toEqual({
    chainage_m: 101,
    level_m: 10.1,
    says: 'ground',
  });
});
