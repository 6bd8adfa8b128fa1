import { label, type View } from './draw';
import { FONT, FONT_BOLD } from './ink';

/** Height of a line of text, with a pixel of air, and a width that no label is narrower than. [px] */
const LINE = 13;
const NARROWEST = 10;

/** Widths of texts that were measured, which is dear: in a drag most are those of the frame before. [px] */
const widths = new Map<string, number>();
const MOST_WIDTHS = 4000;
if (typeof document !== 'undefined') document.fonts?.addEventListener('loadingdone', () => widths.clear());

/** How wide a text is. [px] */
export function widthOf(c: CanvasRenderingContext2D, text: string, bold = false): number {
  const key = bold ? `*${text}` : ` ${text}`;
  let width = widths.get(key);
  if (width === undefined) {
    if (bold) c.font = FONT_BOLD;
    width = c.measureText(text).width;
    if (bold) c.font = FONT;
    if (widths.size >= MOST_WIDTHS) widths.clear();
    widths.set(key, width);
  }
  return width;
}

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

  /** A box for a text this wide at a place, where it touches neither an edge nor what is taken. */
  #free(w: number, x: number, mid: number, from: LabelLook['from']): Box | null {
    const { left, right, h } = this.v;
    const x1 = from === 'left' ? x : x - w / 2;
    if (x1 < left + 1 || x1 + w > right - 1) return null;
    const box = { x1: x1 - 3, x2: x1 + w + 3, y1: mid - LINE / 2, y2: mid + LINE / 2 };
    return box.y1 < 0 || box.y2 > h || this.#taken.some((t) => overlap(t, box)) ? null : box;
  }

  /** A label at the first of these places where there is room; true if it was placed. */
  place(
    words: string | (() => string),
    spots: [x: number, y: number][],
    colour: string,
    { from = 'middle', bold = false, ground = '', halo = '', on }: LabelLook = {},
  ): boolean {
    const { c } = this.v;
    // Where there is no room for the narrowest, nothing has to be put into words and measured.
    const open = spots.filter(([x, mid]) => this.#free(NARROWEST, x, mid, from));
    if (!open.length) return false;
    const text = typeof words === 'string' ? words : words();
    if (!text) return false;
    const w = widthOf(c, text, bold);
    for (const [x, mid] of open) {
      const box = this.#free(w, x, mid, from);
      if (!box || on?.(box)) continue;
      const x1 = box.x1 + 3;
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
