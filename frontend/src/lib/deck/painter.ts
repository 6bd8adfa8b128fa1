import { ready } from './canvas';
import type { View } from './draw';
import { FONT, inks } from './ink';

/** A track's place on the deck's canvas, and how it is drawn there. */
export interface Painted {
  top: number;
  height: number;
  draw: (view: View) => void;
}

/**
 * Draws all tracks on the deck's one canvas, once a frame at most, and of them only those that have changed.
 * Everything is drawn again when the canvas gets another size.
 */
export class Painter {
  #tracks = new Map<string, Painted>();
  #dirty = new Set<string>();
  #frame = 0;
  #size = '';

  constructor(
    private readonly canvas: () => HTMLCanvasElement | undefined,
    /** Its size as laid out: asking the canvas itself would make the browser lay out the page in mid-drag. */
    private readonly laid: () => { w: number; h: number },
    private readonly axis: () => Omit<View, 'c' | 'w' | 'h'>,
  ) {}

  put(id: string, painted: Painted): void {
    const was = this.#tracks.get(id);
    this.#tracks.set(id, painted);
    // Another place leaves something behind where it was: then all is drawn again.
    if (was?.top !== painted.top || was.height !== painted.height) this.#size = '';
    this.#dirty.add(id);
    if (!this.#frame) this.#frame = requestAnimationFrame(() => this.paint());
  }

  drop(id: string): void {
    this.#tracks.delete(id);
    this.#size = '';
  }

  paint(): void {
    cancelAnimationFrame(this.#frame);
    this.#frame = 0;
    const canvas = this.canvas();
    if (!canvas) return;
    const { w, h } = this.laid();
    const size = `${w} ${h} ${window.devicePixelRatio}`;
    const all = size !== this.#size;
    const c = ready(canvas, w, h, all, true);
    if (!c) return;
    this.#size = size;
    if (all) {
      c.fillStyle = inks().paper;
      c.fillRect(0, 0, w, h);
    }
    for (const [id, t] of this.#tracks) {
      if (!all && !this.#dirty.has(id)) continue;
      c.save();
      c.translate(0, t.top);
      c.beginPath();
      c.rect(0, 0, w, t.height);
      c.clip();
      // Opaque: what needs no blending is quicker where no graphics card helps.
      c.fillStyle = inks().paper;
      c.fillRect(0, 0, w, t.height);
      c.font = FONT;
      t.draw({ c, w, h: t.height, ...this.axis() });
      c.restore();
    }
    this.#dirty.clear();
  }

  close(): void {
    cancelAnimationFrame(this.#frame);
  }
}
