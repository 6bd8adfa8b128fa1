import { scaleLinear, type ScaleLinear } from 'd3-scale';

/** Left margin of every track, where its name and its scale stand; and the right one. [px] */
export const GUTTER = 62;
export const MARGIN = 16;
/** A zoom shows at least this much road. [m] */
const SHORTEST = 40;

/** The one chainage axis that all tracks share. */
export class Axes {
  width = $state(800);
  /** Height of the long section, whose scale of heights goes with the scale of chainage. [px] */
  height = $state(260);
  /** How much heights are exaggerated; null: as much as fits. */
  ratio = $state<number | null>(null);
  /** Whether a dragged IP snaps; Alt turns it round while it is held. */
  snaps = $state(false);
  full = $state.raw<[number, number]>([0, 1000]);
  domain = $state.raw<[number, number]>([0, 1000]);

  x: ScaleLinear<number, number> = $derived(
    scaleLinear()
      .domain(this.domain)
      .range([GUTTER, Math.max(this.width - MARGIN, GUTTER + 10)]),
  );
  /** Pixels for each metre of road. */
  scale = $derived((this.x.range()[1]! - this.x.range()[0]!) / (this.domain[1] - this.domain[0]));

  toChainage(px: number): number {
    return this.x.invert(px);
  }

  show(full: [number, number]): void {
    if (full[0] === this.full[0] && full[1] === this.full[1]) return;
    this.full = full;
    this.domain = full;
  }

  fit(): void {
    this.domain = this.full;
  }

  /** Show a stretch with some road to both sides. */
  zoomTo(from: number, to: number): void {
    const span = Math.min(Math.max(1.5 * (to - from), SHORTEST), this.full[1] - this.full[0]);
    this.#settle((from + to - span) / 2, span);
  }

  zoom(factor: number, about: number): void {
    const [a, b] = this.domain;
    const span = Math.min(Math.max((b - a) / factor, SHORTEST), this.full[1] - this.full[0]);
    const share = (about - a) / (b - a);
    this.#settle(about - share * span, span);
  }

  pan(metres: number): void {
    const [a, b] = this.domain;
    this.#settle(a + metres, b - a);
  }

  /** Move just enough to have this chainage in view. */
  reveal(chainage: number): void {
    const [a, b] = this.domain;
    const edge = 0.06 * (b - a);
    if (chainage < a + edge) this.pan(chainage - a - edge);
    else if (chainage > b - edge) this.pan(chainage - b + edge);
  }

  #settle(from: number, span: number): void {
    const start = Math.min(Math.max(from, this.full[0]), this.full[1] - span);
    this.domain = [start, start + span];
  }
}
