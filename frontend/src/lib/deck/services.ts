import type { Schemas } from '../../api/client';
import type { View } from './draw';
import { inks } from './ink';
import type { Scale } from './trace';

type Service = Schemas['ServiceFigures'];

/** How a service is marked wherever it is cut across: a ring for what is buried, a bar with feet for what hangs. */
export function serviceMark(c: CanvasRenderingContext2D, what: string, x: number, y: number): void {
  const ink = inks();
  c.strokeStyle = ink.plumb;
  c.fillStyle = ink.paper;
  c.lineWidth = 1.5;
  c.beginPath();
  if (what === 'buried') c.arc(x, y, 4, 0, 2 * Math.PI);
  else {
    c.moveTo(x - 7, y);
    c.lineTo(x + 7, y);
    for (const end of [-7, 7]) {
      c.moveTo(x + end, y - 3);
      c.lineTo(x + end, y + 3);
    }
  }
  if (what === 'buried') c.fill();
  c.stroke();
}

/** Services where they cross the centreline. */
export function drawServices(v: View, services: Service[], y: Scale): void {
  for (const of of services)
    for (const [s, z] of of.crossings)
      if (v.x(s!) >= v.left && v.x(s!) <= v.right) serviceMark(v.c, of.what, v.x(s!), y(z!));
}
