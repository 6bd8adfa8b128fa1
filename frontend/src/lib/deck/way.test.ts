import { describe, expect, it } from 'vitest';
import { onWay, wayOf, wordsOf, type Taken } from './way';

const taken: Taken = { chainage_m: 500, level_m: 120, grade_in: 0.04, grade_out: -0.02 };
const at = { chainage_m: 550, level_m: 126 };

describe('the way of a dragged IP', () => {
  it('is chosen by the keys that are held, and by where the pointer went', () => {
    expect(wayOf({ shift: false, ctrl: false }, 9, 2, taken)).toBe('free');
    expect(wayOf({ shift: true, ctrl: false }, -9, 2, taken)).toBe('level');
    expect(wayOf({ shift: true, ctrl: false }, 2, -9, taken)).toBe('upright');
    expect(wayOf({ shift: false, ctrl: true }, 2, 9, taken)).toBe('in');
    expect(wayOf({ shift: true, ctrl: true }, 2, 9, taken)).toBe('out');
    expect(wayOf({ shift: false, ctrl: true }, 2, 9, { ...taken, grade_in: null })).toBe('free');
  });

  it('leads where it says', () => {
    expect(onWay('free', taken, at)).toEqual(at);
    expect(onWay('upright', taken, at)).toEqual({ chainage_m: 500, level_m: 126 });
    expect(onWay('level', taken, at)).toEqual({ chainage_m: 550, level_m: 120 });
    expect(onWay('in', taken, at)).toEqual({ chainage_m: 550, level_m: 122 });
    expect(onWay('out', taken, at)).toEqual({ chainage_m: 550, level_m: 119 });
    expect(wordsOf('out', taken)).toBe('on the grade out, −2.00 %');
  });
});
