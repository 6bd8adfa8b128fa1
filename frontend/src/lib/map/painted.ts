import Layer from 'ol/layer/Layer';
import type { FrameState } from 'ol/Map';
import { ready } from '../deck/canvas';

/** Where a painted layer draws: its size, pixels a metre, and places of eastings and northings. */
export interface Sheet {
  c: CanvasRenderingContext2D;
  w: number;
  h: number;
  k: number;
  x: (easting: number) => number;
  y: (northing: number) => number;
}

/** A layer of the map on a canvas of its own: it follows the hand while tiles lie still. */
export abstract class PaintedLayer extends Layer {
  #canvas = document.createElement('canvas');

  constructor() {
    super({});
    this.#canvas.style.cssText = 'position:absolute;inset:0;width:100%;height:100%;pointer-events:none';
  }

  protected abstract paint(sheet: Sheet): void;

  override render(frame: FrameState | null): HTMLElement {
    const [w, h] = (frame?.size ?? [0, 0]) as [number, number];
    const c = frame && ready(this.#canvas, w, h);
    if (c) {
      const k = 1 / frame.viewState.resolution;
      const [e0, n0] = frame.viewState.center as [number, number];
      this.paint({ c, w, h, k, x: (e) => w / 2 + (e - e0) * k, y: (n) => h / 2 - (n - n0) * k });
    }
    return this.#canvas;
  }
}
