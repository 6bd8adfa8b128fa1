import { told } from '../units';
import { FONT, inks } from '../deck/ink';
import type { Box } from '../deck/labels';
import type { TriangleAt } from '../state/hand.svelte';
import type { Suspect } from '../state/hunt.svelte';
import { PaintedLayer, type Sheet } from './painted';

/** What is in hand on the map, and the suspects. */
export interface PickedLook {
  suspects: { s: Suspect; i: number }[];
  picked: readonly number[];
  point: { easting_m: number; northing_m: number } | null;
  triangle: TriangleAt | null;
  /** Whether the triangle is meant, or its edge. */
  edge: boolean;
  line: number[][];
  /** Whether the line closes on itself. */
  closed: boolean;
  /** Boundaries of the ground. */
  rings: number[][][];
}

/** Suspects as rings with a cross, what is in hand in ink, a swapped edge as a dashed ghost. */
export class PickedLayer extends PaintedLayer {
  look: PickedLook = {
    suspects: [],
    picked: [],
    point: null,
    triangle: null,
    edge: false,
    line: [],
    closed: false,
    rings: [],
  };

  protected paint({ c, w, h, x: toX, y: toY }: Sheet): readonly Box[] {
    const taken: Box[] = [];
    const at = (p: readonly number[]): [number, number] => [toX(p[0]!), toY(p[1]!)];
    const ink = inks();
    const { suspects, picked, point, triangle, edge, line, closed, rings } = this.look;
    c.lineWidth = 1.5;
    c.font = FONT;
    const path = (points: number[][], closed: boolean) => {
      c.beginPath();
      for (const p of points) c.lineTo(...at(p));
      if (closed) c.closePath();
    };
    c.strokeStyle = ink.faint;
    c.setLineDash([7, 4]);
    for (const ring of rings) {
      path(ring, true);
      c.stroke();
    }
    c.setLineDash([]);
    const inHand = new Set(picked);
    suspects.forEach(({ s, i }) => {
      const [x, y] = at([s.easting_m, s.northing_m]);
      if (x < -20 || y < -20 || x > w + 20 || y > h + 20) return;
      const held = inHand.has(i);
      taken.push({ x1: x - 7, x2: x + 7, y1: y - 7, y2: y + 7 });
      c.strokeStyle = held ? ink.failure : ink.caution;
      c.lineWidth = held ? 3 : 1.5;
      c.beginPath();
      c.arc(x, y, held ? 9 : 6, 0, 2 * Math.PI);
      c.moveTo(x - 3, y - 3);
      c.lineTo(x + 3, y + 3);
      c.moveTo(x + 3, y - 3);
      c.lineTo(x - 3, y + 3);
      c.stroke();
      if (held && s.above_m !== null) {
        const text = `${told('length', Math.abs(s.above_m))} ${s.above_m > 0 ? 'up' : 'down'}`;
        c.lineWidth = 3;
        c.strokeStyle = ink.paper;
        c.strokeText(text, x + 12, y + 4);
        c.fillStyle = ink.failure;
        c.fillText(text, x + 12, y + 4);
      }
    });
    c.strokeStyle = c.fillStyle = ink.plumb;
    c.lineWidth = 2;
    if (triangle) {
      if (!edge) {
        path(triangle.corners, true);
        c.globalAlpha = 0.25;
        c.fill();
        c.globalAlpha = 1;
        c.stroke();
      } else {
        c.lineWidth = 3;
        path(triangle.edge, false);
        c.stroke();
        if (triangle.other) {
          c.setLineDash([6, 4]);
          path(triangle.other, false);
          c.stroke();
          c.setLineDash([]);
        }
      }
    }
    if (line.length) {
      path(line, closed && line.length > 2);
      c.stroke();
      for (const p of line) {
        c.beginPath();
        c.arc(...at(p), 3.5, 0, 2 * Math.PI);
        c.fill();
      }
    }
    if (point) {
      c.beginPath();
      c.arc(...at([point.easting_m, point.northing_m]), 9, 0, 2 * Math.PI);
      c.stroke();
    }
    return taken;
  }
}
