import { expect, it } from 'vitest';
import type { View } from './draw';
import { Labels } from './labels';

const written: [string, number, number][] = [];
const c = {
  font: '',
  fillStyle: '',
  measureText: (text: string) => ({ width: 6 * text.length }),
  fillText: (text: string, x: number, y: number) => written.push([text, x, y]),
  fillRect: () => undefined,
} as unknown as CanvasRenderingContext2D;
const view = { c, w: 300, h: 60, left: 60, right: 290 } as View;

it('no label touches another, a mark or an edge; the first placed stands', () => {
  const labels = new Labels(view);
  labels.keepClear(200, 0, 240, 60);
  expect(labels.put('first', 100, 20, 'ink')).toBe(true);
  // On the first: left away. With a second height to go to: placed there.
  expect(labels.put('second', 110, 22, 'ink')).toBe(false);
  expect(labels.put('third', 110, [22, 45], 'ink')).toBe(true);
  expect(labels.put('mark', 220, 30, 'ink')).toBe(false);
  expect(labels.put('at the very edge', 70, 45, 'ink')).toBe(false);
  expect(labels.put('over', 100, 3, 'ink')).toBe(false);
  expect(labels.put('right', 245, 30, 'ink', { from: 'left' })).toBe(true);
  expect(written.map(([text]) => text)).toEqual(['first', 'third', 'right']);
  expect(written[2]![1]).toBe(245);
});
