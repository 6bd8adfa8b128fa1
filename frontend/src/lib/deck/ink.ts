/** Colours and textures, each with one meaning, read from the theme. */

export interface Inks {
  cut: string;
  fill: string;
  ground: string;
  line: string;
  other: string;
  contour: string;
  contourMain: string;
  relief: string;
  fine: string;
  caution: string;
  failure: string;
  faint: string;
  grid: string;
  plumb: string;
  paper: string;
  stratum: string;
  cutHatch: CanvasPattern;
  fillDots: CanvasPattern;
  layerTint: CanvasPattern;
  failureHatch: CanvasPattern;
}

let cached: { theme: string; inks: Inks } | null = null;

export function inks(): Inks {
  const theme = document.documentElement.dataset.theme ?? '';
  if (cached?.theme === theme) return cached.inks;
  const style = getComputedStyle(document.documentElement);
  const ink = (name: string) => style.getPropertyValue(`--ink-${name}`).trim();
  const made: Inks = {
    cut: ink('cut'),
    fill: ink('fill'),
    ground: ink('ground'),
    line: ink('line'),
    other: ink('other'),
    contour: ink('contour'),
    contourMain: ink('contour-main'),
    relief: ink('relief'),
    fine: ink('fine'),
    caution: ink('caution'),
    failure: ink('failure'),
    faint: ink('faint'),
    grid: ink('grid'),
    plumb: ink('plumb'),
    paper: ink('paper'),
    stratum: ink('relief'),
    cutHatch: texture(ink('cut'), (c, n) =>
      stroke(c, [
        [0, n],
        [n, 0],
      ]),
    ),
    fillDots: texture(ink('fill'), dot),
    layerTint: texture(ink('faint'), (c, n) =>
      stroke(c, [
        [0, n / 2],
        [n, n / 2],
      ]),
    ),
    failureHatch: texture(ink('failure'), (c, n) =>
      stroke(
        c,
        [
          [0, 0],
          [n, n],
        ],
        [
          [0, n],
          [n, 0],
        ],
      ),
    ),
  };
  cached = { theme, inks: made };
  return made;
}

type Line = [number, number][];

function stroke(c: CanvasRenderingContext2D, ...lines: Line[]): void {
  c.lineWidth = 1;
  c.beginPath();
  for (const [a, b] of lines as [[number, number], [number, number]][]) {
    c.moveTo(...a);
    c.lineTo(...b);
  }
  c.stroke();
}

function dot(c: CanvasRenderingContext2D, n: number): void {
  c.beginPath();
  c.arc(n / 2, n / 2, 1, 0, 2 * Math.PI);
  c.fill();
}

/** A tile with a tint of the colour under its mark. */
function texture(colour: string, mark: (c: CanvasRenderingContext2D, n: number) => void): CanvasPattern {
  const n = 6;
  const tile = document.createElement('canvas');
  tile.width = tile.height = n;
  const c = tile.getContext('2d')!;
  c.globalAlpha = 0.28;
  c.fillStyle = colour;
  c.fillRect(0, 0, n, n);
  c.globalAlpha = 0.85;
  c.strokeStyle = colour;
  mark(c, n);
  return c.createPattern(tile, 'repeat')!;
}

/** Ink and dash of a line by its colour number; the present line is always drawn solid and thick. */
export const DASHES: number[][] = [[], [7, 3], [2, 3], [9, 3, 2, 3], [4, 4], [12, 4]];
// None near those of cut, fill, ground or failure.
const LINE_INKS = ['#12505c', '#1f5fae', '#2c7a3f', '#44484f', '#0d7f8c', '#6b7a1e'];
const LINE_INKS_DUSK = ['#74d0d9', '#7db4ff', '#83cda6', '#c9ced6', '#b9f0f5', '#c9d97a'];

export function lineInk(colour: number): string {
  const dusk = document.documentElement.dataset.theme === 'dusk';
  return (dusk ? LINE_INKS_DUSK : LINE_INKS)[colour % LINE_INKS.length]!;
}

export const FONT = '12px "Overpass Variable", "Open Sans", sans-serif';
export const FONT_BOLD = '600 12px "Overpass Variable", "Open Sans", sans-serif';
