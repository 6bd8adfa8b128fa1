import { expect, it } from 'vitest';
import { firstFrom, valueAt } from '../lookup';
import { trace } from './trace';

function record(xs: number[], ys: number[], range: [number, number], gap?: number[]) {
  const out: [string, number, number][] = [];
  const pen = {
    moveTo: (a: number, b: number) => out.push(['m', a, b]),
    lineTo: (a: number, b: number) => out.push(['l', a, b]),
  } as unknown as Path2D;
  trace(
    pen,
    xs,
    ys,
    (v) => v,
    (v) => v,
    range,
    gap,
  );
  return out;
}

it('keeps every spike when many points share a pixel', () => {
  const xs = Array.from({ length: 1000 }, (_, i) => i / 100);
  const ys = xs.map((_, i) => (i === 457 ? 99 : i === 733 ? -7 : 1));
  const drawn = record(xs, ys, [0, 10]);
  expect(drawn.length).toBeLessThan(60);
  expect(Math.max(...drawn.map((d) => d[2]))).toBe(99);
  expect(Math.min(...drawn.map((d) => d[2]))).toBe(-7);
});

it('lifts the pen at gaps and at missing values', () => {
  expect(record([0, 5, 10, 15], [1, NaN, 2, 3], [0, 20]).map((d) => d[0])).toEqual(['m', 'm', 'l']);
  expect(record([0, 5, 10], [1, 2, 3], [0, 20], [0, 1, 0]).map((d) => d[0])).toEqual(['m', 'm', 'l']);
});

it('reads values between points and nothing outside', () => {
  expect(firstFrom([0, 10, 20], 10)).toBe(1);
  expect(valueAt([0, 10, 20], [0, 5, 25], 15)).toBe(15);
  expect(valueAt([0, 10], [0, 5], 12)).toBeNaN();
});
