import { describe, expect, it } from 'vitest';
import { addressIn, addressOf } from './address';

describe('An address', () => {
  it('says step and line, and finds them again', () => {
    expect(addressOf(3, 'limits', 'line-12')).toBe('#/projects/3/limits/line-12');
    expect(addressIn(addressOf(3, 'limits', 'line-12'))).toEqual({ step: 'limits', line: 'line-12' });
    expect(addressIn(addressOf(3, 'survey', null))).toEqual({ step: 'survey', line: null });
  });

  it('takes nothing from what is none of its own', () => {
    for (const other of ['', '#/projects/3', '#/projects/x/limits', '#/projects/3/limits/../line-1', '#/elsewhere'])
      expect(addressIn(other).line).toBeNull();
  });
});
