import { describe, expect, it } from 'vitest';
import { Axes, GUTTER, MARGIN } from './axes.svelte';

function made(): Axes {
  const axes = new Axes();
  axes.width = 1000;
  axes.show([0, 4000]);
  return axes;
}

describe('the one chainage axis', () => {
  it('maps the whole line between its margins, and back', () => {
    const axes = made();
    expect(axes.x(0)).toBe(GUTTER);
    expect(axes.x(4000)).toBe(1000 - MARGIN);
    expect(axes.toChainage(axes.x(1234.5))).toBeCloseTo(1234.5, 9);
    expect(axes.scale).toBeCloseTo((1000 - GUTTER - MARGIN) / 4000, 12);
  });

  it('zooms about a chainage that stays where it is', () => {
    const axes = made();
    const was = axes.x(1000);
    axes.zoom(4, 1000);
    expect(axes.x(1000)).toBeCloseTo(was, 6);
    expect(axes.domain[1] - axes.domain[0]).toBeCloseTo(1000, 6);
  });

  it('never leaves the line and never zooms closer than 40 m', () => {
    const axes = made();
    axes.zoom(1e6, 0);
    expect(axes.domain).toEqual([0, 40]);
    axes.pan(-500);
    expect(axes.domain).toEqual([0, 40]);
    axes.pan(1e9);
    expect(axes.domain).toEqual([3960, 4000]);
    axes.zoom(1e-9, 2000);
    expect(axes.domain).toEqual([0, 4000]);
  });

  it('reveals a chainage by the least move, and keeps the view for one in sight', () => {
    const axes = made();
    axes.zoom(4, 0);
    expect(axes.domain).toEqual([0, 1000]);
    axes.reveal(500);
    expect(axes.domain).toEqual([0, 1000]);
    axes.reveal(1500);
    expect(axes.domain[1]).toBeCloseTo(1560, 6);
    axes.fit();
    expect(axes.domain).toEqual([0, 4000]);
  });

  it('keeps the zoom when the same line is shown again, and fits another one', () => {
    const axes = made();
    axes.zoom(2, 1000);
    const domain = axes.domain;
    axes.show([0, 4000]);
    expect(axes.domain).toEqual(domain);
    axes.show([0, 5000]);
    expect(axes.domain).toEqual([0, 5000]);
  });
});
