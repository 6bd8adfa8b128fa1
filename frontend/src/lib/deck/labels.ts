import { label, type View } from './draw';
import { FONT, FONT_BOLD } from './ink';

/** Height of a line of text, with a pixel of air. [px] */
const LINE = 13;

/** `ground` fills a label's box and `halo` goes around its letters, so that it stands out from what is drawn. */
interface LabelLook {
  from?: 'middle' | 'left';
  bold?: boolean;
  ground?: string;
  halo?: string;
  /** What it may not lie on beside other labels, as a line that is drawn: asked with its box. */
  on?: (box: Box) => boolean;
}

export interface Box {
  x1: number;
  x2: number;
  y1: number;
  y2: number;
}

/**
 * Places labels so that none touches another or an edge; the more important ones are placed first.
 * A label without room is left away.
 */
export class Labels {
  #taken: Box[] = [];

  constructor(private readonly v: Pick<View, 'c' | 'left' | 'right' | 'h'>) {}

  /** What is taken so far. */
  get taken(): readonly Box[] {
    return this.#taken;
  }

  /** Keep clear of a box, as of a mark that is drawn already. */
  keepClear(x1: number, y1: number, x2: number, y2: number): void {
    this.#taken.push({ x1, y1, x2, y2 });
  }

  /** Take a column of this width about a point, from top to bottom; true if there was room. */
  room(x: number, width: number): boolean {
    const box = { x1: x - width / 2, x2: x + width / 2, y1: 0, y2: this.v.h };
    if (this.#taken.some((t) => overlap(t, box))) return false;
    this.#taken.push(box);
    return true;
  }

  /**
   * A label at the first of these heights where there is room, about its point or to the right of it; true if it
   * was placed.
   */
  put(text: string, x: number, y: number | number[], colour: string, look: LabelLook = {}): boolean {
    const heights = typeof y === 'number' ? [y] : y;
    return this.place(
      text,
      heights.map((mid) => [x, mid]),
      colour,
      look,
    );
  }

  /** A label at the first of these places where there is room; true if it was placed. */
  place(
    text: string,
    spots: [x: number, y: number][],
    colour: string,
    { from = 'middle', bold = false, ground = '', halo = '', on }: LabelLook = {},
  ): boolean {
    const { c, left, right, h } = this.v;
    if (bold) c.font = FONT_BOLD;
    const w = c.measureText(text).width;
    if (bold) c.font = FONT;
    for (const [x, mid] of spots) {
      const x1 = from === 'middle' ? x - w / 2 : x;
      if (x1 < left + 1 || x1 + w > right - 1) continue;
      const box = { x1: x1 - 3, x2: x1 + w + 3, y1: mid - LINE / 2, y2: mid + LINE / 2 };
      if (box.y1 < 0 || box.y2 > h || this.#taken.some((t) => overlap(t, box)) || on?.(box)) continue;
      this.#taken.push(box);
      if (ground) {
        c.fillStyle = ground;
        c.fillRect(x1 - 2, box.y1, w + 4, LINE);
      }
      if (halo) {
        if (bold) c.font = FONT_BOLD;
        c.lineWidth = 3;
        c.strokeStyle = halo;
        c.strokeText(text, x1, mid + 4);
        if (bold) c.font = FONT;
      }
      label(c, text, x1, mid + 4, colour, bold);
      return true;
    }
    return false;
  }
}

function overlap(a: Box, b: Box): boolean {
  return a.x1 < b.x2 && b.x1 < a.x2 && a.y1 < b.y2 && b.y1 < a.y2;
}
