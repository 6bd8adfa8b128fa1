/** What is written beside what is drawn: in the long section, in the track of levels, and at bends in plan. */

const KEY = 'delgrun-written';

/** Texts of the long section that can be switched, with their names in the list. */
export const LONG_TEXTS = {
  grades: 'grades',
  k: 'K of curves',
  radius: 'R of parabolas too (100 K)',
  length: 'lengths of curves',
  levels: 'levels of IPs',
  turning: 'high and low points',
  utilities: 'utilities',
  bends: 'ends of bends, as verticals',
} as const;
/** Texts at bends in plan. */
export const PLAN_TEXTS = {
  radius: 'radius',
  side: 'side',
  length: 'length of the arc',
  transition: 'transitions',
} as const;
/** Rows of the track of levels. */
export const LEVEL_ROWS = { ground: 'ground', line: 'line', depth: 'depth', grade: 'grade' } as const;

export type LongText = keyof typeof LONG_TEXTS;
export type PlanText = keyof typeof PLAN_TEXTS;
export type LevelRow = keyof typeof LEVEL_ROWS;

interface Kept {
  long: Partial<Record<LongText, boolean>>;
  plan: Partial<Record<PlanText, boolean>>;
  rows: Partial<Record<LevelRow, boolean>>;
  /** Whether transitions are typed by their parameter A. */
  parameter: boolean;
  /** Interval of the track of levels, in the unit that is shown; 0: as there is room. */
  interval: number;
}

const FIRST: Required<Kept> = {
  long: { grades: true, k: true, length: true, turning: true, utilities: true },
  plan: { radius: true },
  rows: { ground: true, line: true, depth: true },
  parameter: false,
  interval: 0,
};

function stored(): Partial<Kept> {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return typeof found === 'object' && found !== null ? (found as Partial<Kept>) : {};
  } catch {
    // What somebody else wrote there says nothing: begin anew.
    return {};
  }
}

export class Written {
  #changed = $state.raw<Partial<Kept>>(stored());

  long(text: LongText): boolean {
    return this.#changed.long?.[text] ?? FIRST.long[text] ?? false;
  }

  plan(text: PlanText): boolean {
    return this.#changed.plan?.[text] ?? FIRST.plan[text] ?? false;
  }

  row(row: LevelRow): boolean {
    return this.#changed.rows?.[row] ?? FIRST.rows[row] ?? false;
  }

  get interval(): number {
    return this.#changed.interval ?? 0;
  }

  get parameter(): boolean {
    return this.#changed.parameter ?? FIRST.parameter;
  }

  /** Everything that is switched, to be read before what it changes is drawn. */
  get all(): unknown {
    return this.#changed;
  }

  toggle(text: LongText): void {
    this.#put({ long: { ...this.#changed.long, [text]: !this.long(text) } });
  }

  togglePlan(text: PlanText): void {
    this.#put({ plan: { ...this.#changed.plan, [text]: !this.plan(text) } });
  }

  toggleRow(row: LevelRow): void {
    this.#put({ rows: { ...this.#changed.rows, [row]: !this.row(row) } });
  }

  setParameter(parameter: boolean): void {
    this.#put({ parameter });
  }

  setInterval(interval: number): void {
    this.#put({ interval });
  }

  #put(part: Partial<Kept>): void {
    this.#changed = { ...this.#changed, ...part };
    localStorage.setItem(KEY, JSON.stringify(this.#changed));
  }
}
