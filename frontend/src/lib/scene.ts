import type { Schemas } from '../api/client';
import { Labels } from './deck/labels';
import { type Inks, inks } from './deck/ink';

export type Drawing = Schemas['Drawing'];
type Role = Drawing['strokes'][number]['role'];
type Scale = (value: number) => number;

/** Pixels in a millimetre of a pen. Source: CSS Values and Units 3, 6.2: 96 px an inch. */
const PX_MM = 96 / 25.4;
/** What letters keep from what they name. [px] */
const BESIDE = 14;

const INK: Record<Role, keyof Inks> = {
  ground: 'ground',
  line: 'line',
  road: 'line',
  works: 'line',
  axis: 'faint',
  cut: 'cutHatch',
  fill: 'fillDots',
  frame: 'faint',
  grid: 'grid',
  text: 'line',
  faint: 'faint',
  bad: 'failure',
  utility: 'plumb',
  layer: 'layerTint',
  stratum: 'stratum',
  reserve: 'plumb',
};

/** A drawing of the server on a canvas; letters stand beside what they name wherever there is room. */
export function paintDrawing(
  c: CanvasRenderingContext2D,
  drawing: Drawing,
  x: Scale,
  y: Scale,
  box: { w: number; h: number },
): void {
  const ink = inks();
  const path = (points: number[][]) => {
    const p = new Path2D();
    for (const [px, py] of points) p.lineTo(x(px!), y(py!));
    return p;
  };
  for (const r of drawing.regions) {
    c.fillStyle = ink[INK[r.role]];
    const ring = path([...r.ring, r.ring[0]!]);
    c.fill(ring);
    if (!r.edge_mm) continue;
    c.strokeStyle = ink.faint;
    c.lineWidth = r.edge_mm * PX_MM;
    c.stroke(ring);
  }
  for (const s of drawing.strokes) {
    c.strokeStyle = ink[INK[s.role]];
    c.lineWidth = s.width_mm * PX_MM;
    c.setLineDash(s.dash_mm.map((d) => d * PX_MM));
    c.stroke(path(s.points));
  }
  c.setLineDash([]);
  for (const m of drawing.marks) {
    c.strokeStyle = c.fillStyle = ink[INK[m.role]] as string;
    paintMark(c, m.shape, x(m.at[0]), y(m.at[1]), ink.paper, (m.size_mm * PX_MM) / 2);
  }
  const labels = new Labels({ c, left: 0, right: box.w, h: box.h });
  for (const t of drawing.words)
    labels.place(
      t.text,
      [BESIDE, -BESIDE, 2 * BESIDE].map((off) => [x(t.at[0]), y(t.at[1]) + off]),
      ink[INK[t.role]] as string,
      { halo: ink.paper },
    );
}

/** A sign at a point, in the ink that is set: a dot, a cross, a ring for what is buried, a bar with feet for a wire. */
export function paintMark(
  c: CanvasRenderingContext2D,
  shape: Drawing['marks'][number]['shape'],
  x: number,
  y: number,
  paper: string,
  radius = 2.5,
): void {
  c.lineWidth = 1.5;
  c.beginPath();
  if (shape === 'pipe' || shape === 'dot') c.arc(x, y, shape === 'dot' ? Math.min(radius, 2.5) : 4, 0, 2 * Math.PI);
  else if (shape === 'cross') {
    c.moveTo(x - 4, y - 4);
    c.lineTo(x + 4, y + 4);
    c.moveTo(x - 4, y + 4);
    c.lineTo(x + 4, y - 4);
  } else {
    c.moveTo(x - 7, y);
    c.lineTo(x + 7, y);
    for (const end of [-7, 7]) {
      c.moveTo(x + end, y - 3);
      c.lineTo(x + end, y + 3);
    }
  }
  if (shape === 'pipe') {
    c.fillStyle = paper;
    c.fill();
  } else if (shape === 'dot') c.fill();
  c.stroke();
}
