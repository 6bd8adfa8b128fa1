import Layer from 'ol/layer/Layer';
import RBush from 'rbush';
import type { Box } from '../deck/labels';
import type { FrameState } from 'ol/Map';
import { ready } from '../deck/canvas';

/** Names of all layers of the map keep clear of each other; of layers that lie higher they come first. */
export const NAMES = 'names';

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

  /** Draw; answers with what no name of a lower layer may lie on. */
  protected abstract paint(sheet: Sheet): readonly Box[];

  #taken: readonly Box[] = [];

  override getDeclutter(): string {
    return NAMES;
  }

  override renderDeclutter(frame: FrameState): void {
    frame.declutter ??= {};
    const tree = (frame.declutter[NAMES] ??= new RBush(9));
    const k = frame.pixelRatio;
    const entry = ({ x1, x2, y1, y2 }: Box) => ({
      minX: k * x1,
      maxX: k * x2,
      minY: k * y1,
      maxY: k * y2,
      value: null,
    });
    tree.load(this.#taken.map(entry) as never[]);
  }

  override render(frame: FrameState | null): HTMLElement {
    const [w, h] = (frame?.size ?? [0, 0]) as [number, number];
    const c = frame && ready(this.#canvas, w, h);
    if (c) {
      const k = 1 / frame.viewState.resolution;
      const [e0, n0] = frame.viewState.center as [number, number];
      this.#taken = this.paint({ c, w, h, k, x: (e) => w / 2 + (e - e0) * k, y: (n) => h / 2 - (n - n0) * k });
    }
    return this.#canvas;
  }
}
