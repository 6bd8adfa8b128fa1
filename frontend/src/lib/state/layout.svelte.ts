/** Order, heights and hiding of tracks, for each step of the work; what a person changes is remembered. */

const KEY = 'delgrun-layout';
export const LEAST_HEIGHT = 28;

interface OfStep {
  order: string[];
  hidden: string[];
  heights: Record<string, number>;
}
type Stored = Record<string, Partial<OfStep>>;

function stored(): Stored {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return typeof found === 'object' && found !== null ? (found as Stored) : {};
  } catch {
    // What somebody else wrote there is no layout: begin anew.
    return {};
  }
}

export class Layout {
  #changed = $state.raw<Stored>(stored());

  /**
   * @param all every track, in the order in which new ones stand
   * @param firsts the tracks that a step shows until a person changes that
   */
  constructor(
    private readonly all: string[],
    private readonly firsts: (step: string) => string[],
  ) {}

  #of(step: string): OfStep {
    const mine = this.#changed[step] ?? {};
    const first = this.firsts(step);
    const order = mine.order ?? [...first, ...this.all.filter((id) => !first.includes(id))];
    return {
      // A track that came with a newer version stands at the end; one that went away is left out.
      order: [...order.filter((id) => this.all.includes(id)), ...this.all.filter((id) => !order.includes(id))],
      hidden: mine.hidden ?? this.all.filter((id) => !first.includes(id)),
      heights: mine.heights ?? {},
    };
  }

  order(step: string): string[] {
    return this.#of(step).order;
  }

  shown(step: string): string[] {
    const { order, hidden } = this.#of(step);
    return order.filter((id) => !hidden.includes(id));
  }

  /** Height a person gave a track in this step. [px] */
  height(step: string, id: string): number | undefined {
    return this.#of(step).heights[id];
  }

  toggle(step: string, id: string): void {
    const { hidden } = this.#of(step);
    this.#put(step, { hidden: hidden.includes(id) ? hidden.filter((h) => h !== id) : [...hidden, id] });
  }

  /** Put a track before another one, or last. */
  place(step: string, id: string, before: string | null): void {
    if (id === before) return;
    const order = this.order(step).filter((o) => o !== id);
    const at = before === null ? order.length : order.indexOf(before);
    this.#put(step, { order: [...order.slice(0, at), id, ...order.slice(at)] });
  }

  /** Move a track up (-1) or down (1) among those that are shown. */
  move(step: string, id: string, by: -1 | 1): void {
    const shown = this.shown(step);
    const at = shown.indexOf(id);
    const other = shown[at + by];
    if (at < 0 || other === undefined) return;
    this.place(step, id, by < 0 ? other : (shown[at + 2] ?? null));
  }

  resize(step: string, id: string, height: number): void {
    const heights = { ...this.#of(step).heights, [id]: Math.max(Math.round(height), LEAST_HEIGHT) };
    this.#put(step, { heights });
  }

  /** Back to what the step shows by itself. */
  reset(step: string): void {
    const rest = Object.entries(this.#changed).filter(([s]) => s !== step);
    this.#changed = Object.fromEntries(rest);
    localStorage.setItem(KEY, JSON.stringify(this.#changed));
  }

  #put(step: string, part: Partial<OfStep>): void {
    this.#changed = { ...this.#changed, [step]: { ...this.#changed[step], ...part } };
    localStorage.setItem(KEY, JSON.stringify(this.#changed));
  }
}
