// @vitest-environment jsdom
import { Written } from '../state/written.svelte';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Finding } from '../../api/client';
import type { Figured, Still } from '../state/figures.svelte';
import type { Work } from '../state/work.svelte';
import { drawAxis, type View } from './draw';
import { drawLongSection } from './long';
import { drawMass } from './mass';
import { drawUse } from './use';

/** A canvas that writes down what is drawn on it. */
class Recorder {
  calls: [string, ...unknown[]][] = [];
  fillStyle: unknown = '';
  strokeStyle: unknown = '';
  globalAlpha = 1;
  context = new Proxy(this, {
    get: (self, name: string) => {
      if (name in self) return self[name as keyof Recorder];
      if (name === 'measureText') return (text: string) => ({ width: 6 * text.length });
      if (name === 'createPattern') return () => 'pattern';
      return (...args: unknown[]) => {
        self.calls.push([name, ...args]);
      };
    },
    set: (self, name: string, value) => {
      (self as unknown as Record<string, unknown>)[name] = value;
      return true;
    },
  }) as unknown as CanvasRenderingContext2D;
  texts = () => this.calls.filter((c) => c[0] === 'fillText') as [string, string, number, number][];
}

let recorder: Recorder;
function view(h: number, domain: [number, number] = [0, 1000]): View {
  const x = (s: number) => 62 + ((s - domain[0]) / (domain[1] - domain[0])) * 800;
  return { c: recorder.context, w: 878, h, left: 62, right: 862, x, domain };
}
const paths: string[] = [];

beforeEach(() => {
  recorder = new Recorder();
  paths.length = 0;
  HTMLCanvasElement.prototype.getContext = (() => new Recorder().context) as never;
  const push = (name: string) => () => paths.push(name);
  globalThis.Path2D = class {
    moveTo = push('move');
    lineTo = push('line');
    closePath = push('close');
    rect = () => undefined;
  } as unknown as typeof Path2D;
});

const finding = (from: number, to: number, brief: string, ip: number): Finding =>
  ({ check: 'crest_k', from_chainage_m: from, to_chainage_m: to, brief, ip, use: 1.2, advice: false }) as Finding;

function figures(over: Partial<Figured> = {}): Figured {
  const arrays = {
    line_chainage: Float32Array.of(0, 1000),
    line_level: Float32Array.of(10, 30),
    mass: Float32Array.of(0, 500, -200),
  };
  return { arrays, products: {}, ...over } as unknown as Figured;
}

describe('limit use', () => {
  it('says each failure in words inside the track, beside its mark', () => {
    drawUse(view(96), [], [finding(300, 400, 'K 15.9, needs 17', 2)]);
    const [, , x] = recorder.texts().find((t) => t[1] === 'K 15.9, needs 17')!;
    expect(x).toBeGreaterThan(view(96).x(400));
    expect(x + 6 * 16).toBeLessThan(862);
  });

  it('turns the words to the other side at the end, and leaves out what would cover another', () => {
    const many = [finding(980, 1000, 'at the end', 9), finding(990, 1000, 'covered', 10)];
    drawUse(view(96), [], many);
    const found = recorder.texts().filter((t) => t[1] === 'at the end' || t[1] === 'covered');
    expect(found.map((t) => t[1])).toEqual(['at the end']);
    expect(found[0]![2]).toBeLessThan(view(96).x(980));
  });

  it('draws a failure at full height in its own texture', () => {
    const use = { check: 'crest_k', from_chainage_m: 300, to_chainage_m: 400, use: 1.2, ip: 2 };
    drawUse(view(96), [use] as never, [finding(300, 400, 'K', 2)]);
    expect(recorder.calls.some((c) => c[0] === 'strokeRect')).toBe(true);
    const bars = recorder.calls.filter((c) => c[0] === 'fillRect') as [string, number, number, number, number][];
    expect(Math.max(...bars.map((b) => b[4]))).toBeGreaterThan(12);
  });
});

describe('the long section', () => {
  const still = {
    ground: { start_m: 0, end_m: 1000, bends: [] },
    arrays: {
      section_chainage: Float32Array.of(0, 500, 1000),
      ground_chainage: Float32Array.of(0, 500, 1000),
      ground_level: Float32Array.of(12, 12, 34),
      ground_gap: Float32Array.of(1, 0, 0),
    },
  } as unknown as Still;
  const work = (shownFigures: Figured | null) =>
    ({
      still,
      shownFigures,
      marked: shownFigures,
      over: { shown: {}, found: null },
      selection: { step: 'line', slot: 'line-1' },
      line: { colour: 0 },
      long: { ratio: 1, levels: [0, 40], h: 250 },
      beside: { drawn: false },
      refused: { ghost: null },
      past: { figures: null },
      notes: [],
      written: new Written(),
    }) as unknown as Work;

  it('fills cut and fill as closed pieces where ground and line part', () => {
    drawLongSection(view(250), work(figures()));
    // Ground above, below, above the line: two pieces of cut and one of fill.
    expect(paths.filter((p) => p === 'close')).toHaveLength(3);
  });

  it('says of each level control how much room the line has, with teeth where it may not be', () => {
    const arrays = {
      ...figures().arrays,
      band_chainage: Float32Array.of(100, 300, 600),
      band_low: Float32Array.of(5, 5, NaN),
      band_high: Float32Array.of(NaN, NaN, 20),
    };
    const of = { kind: 'control', joined: true, at_m: 100, limit_m: 5, level_m: 7, lower: true };
    const controls = [
      { ...of, row: 0, what: 'creek', points: 2, slack_m: 7.2 },
      { ...of, row: 1, what: 'wire', points: 1, slack_m: -1.5, lower: false },
    ] as Figured['products']['controls'];
    drawLongSection(view(250), work(figures({ arrays, products: { controls } })));
    const texts = recorder.texts().map((t) => t[1]);
    expect(texts).toContain('creek: 7.20 m to spare');
    expect(texts).toContain('✕ wire: short by 1.50 m');
  });

  it('draws nothing of a line that is not there', () => {
    drawLongSection(view(250), work(null));
    expect(paths).toEqual([]);
  });

  it('writes the greatest and least mass ordinate where they do not run into zero', () => {
    drawMass(view(88), still.arrays.section_chainage!, figures().arrays.mass!);
    expect(recorder.texts().map((t) => t[1])).toEqual(['500', '−200', '0']);
  });
});

it('the axis writes chainages clear of the plumb line, whose own stands in its flag', () => {
  drawAxis(view(28), 500);
  const [flag, ...others] = recorder.texts();
  expect(flag![1]).toBe('0+500.00');
  expect(others.length).toBeGreaterThan(3);
  for (const [, text, x] of others) expect(Math.abs(x + 3 * text.length - view(28).x(500))).toBeGreaterThan(42);
});
