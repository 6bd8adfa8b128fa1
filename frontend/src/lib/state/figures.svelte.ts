import {
  ApiError,
  figures,
  type Answer,
  type Edit,
  type Finding,
  type Ip,
  type Section,
  type Schemas,
} from '../../api/client';
import { KeptArrays, type Arrays } from '../../api/binary';
import type { ProductName, System } from '../../api/fields';
import { Latest } from './latest';
import type { Notices } from './notices.svelte';

/** Which line is meant: a saved one, or other IPs, with edits tried on top. */
export interface Case {
  project: number;
  revision: number;
  slot: string | null;
  /** Slot of the centreline, where there is no line to say it. */
  road?: string;
  ips: Schemas['IpIn'][] | null;
  edits: Edit[];
  /** In what its sentences are read. */
  read?: System;
}

/** Products of one case, as they were answered together. */
export interface Figured {
  of: Case;
  products: Partial<Answer['products']>;
  arrays: Arrays;
  /** Why a trial can't go on from where it is. */
  stopped: string | null;
}

/** What does not depend on a grade line: the ground along the centreline and what is drawn of it. */
export interface Still extends Figured {
  key: string;
  /** Its key, and in what units it is drawn round. */
  drawn: string;
  ground: Schemas['GroundFigures'];
  strip: Schemas['StripFigures'];
}

/** The IPs of a case's line; none where it has no line, or it was not asked for. */
export const ipsOf = (f: Figured | null | undefined): Ip[] => f?.products.line?.ips ?? [];

/** What was found by all checks of a case's line. */
export const findingsOf = (f: Figured | null | undefined): Finding[] => f?.products.uses?.findings ?? [];

/** Sections at some chainages of a case, in their order. */
export interface SectionsAt {
  of: Case;
  some_m: number[];
  shown: Section[];
}

interface Wish {
  of: Case;
  want: ProductName[];
  at_m: number | null;
  some_m?: number[];
}

const sameEdits = (a: Edit[], b: Edit[]) => a.length === b.length && a.every((e, i) => e === b[i]);

/** Whether two cases are one; edits are the same only if they are the very same objects. */
export function sameCase(a: Case | null, b: Case | null): boolean {
  return (
    a !== null &&
    b !== null &&
    a.project === b.project &&
    a.revision === b.revision &&
    a.slot === b.slot &&
    a.ips === b.ips &&
    a.read === b.read &&
    sameEdits(a.edits, b.edits)
  );
}

function asked(wish: Wish, kept: KeptArrays): Promise<Answer> {
  const { project, revision, slot, road = null, ips, edits } = wish.of;
  return figures(
    project,
    { revision, slot, road, ips, edits, want: wish.want, at_m: wish.at_m, ...(wish.some_m && { some_m: wish.some_m }) },
    kept,
  );
}

const figured = (of: Case, { products, arrays, stopped }: Answer): Figured => ({ of, products, arrays, stopped });

/**
 * Products by case. LIVE ones follow every move, one question at a time and only the newest wish; the section at
 * the plumb line is a question of its own; AFTER ones follow once nothing is being tried. What belongs to another
 * case than the one on screen is known by its `of`.
 */
export class Figures {
  line = $state.raw<Figured | null>(null);
  /** Level controls and utilities of a road that has no line yet. */
  bare = $state.raw<Figured | null>(null);
  section = $state.raw<{ of: Case; at_m: number; shown: Section } | null>(null);
  /** What follows once nothing is being tried: remedies, what no line can keep together, and arrays of tracks that wait that long. */
  after = $state.raw<Figured | null>(null);
  still = $state.raw<Still | null>(null);
  /** What must be done first, where there is no ground along a line yet. */
  missing = $state.raw<{ step: string; message: string } | null>(null);
  /** Why the server could not work out what was asked, where that is no missing step. */
  failed = $state.raw<string | null>(null);
  #asked: { of: Case; want: ProductName[] } | null = null;
  /** Sections at some chainages: those that are pinned, and those of a sheet. */
  pinned = $state.raw<SectionsAt | null>(null);
  sheet = $state.raw<SectionsAt | null>(null);
  #cut: { of: Case; at_m: number } | null = null;
  #kept = new KeptArrays(true);
  #stillKept = new KeptArrays();
  #live: Latest<Wish, Answer>;
  #bare: Latest<Wish, Answer>;
  #section: Latest<Wish, Answer>;
  #pinned: Latest<Wish, Answer>;
  #sheet: Latest<Wish, Answer>;
  #after: Latest<Wish, Answer>;
  #still: Latest<Wish & { key: string; drawn: string }, Answer>;

  constructor(private readonly notices: Notices) {
    const quiet = (error: unknown) => this.#refused(error);
    this.#live = new Latest(
      (w) => asked(w, this.#kept),
      (a, w) => {
        this.line = figured(w.of, a);
        this.failed = null;
      },
      quiet,
    );
    const none = new KeptArrays();
    this.#bare = new Latest(
      (w) => asked(w, none),
      (a, w) => (this.bare = figured(w.of, a)),
      quiet,
    );
    this.#section = new Latest(
      (w) => asked(w, none),
      (a, w) => {
        if (a.products.section) this.section = { of: w.of, at_m: w.at_m ?? 0, shown: a.products.section };
      },
      quiet,
    );
    const sections = (take: (found: SectionsAt) => void) =>
      new Latest<Wish, Answer>(
        (w) => asked(w, new KeptArrays()),
        (a, w) => take({ of: w.of, some_m: w.some_m ?? [], shown: a.products.sections ?? [] }),
        quiet,
      );
    this.#pinned = sections((found) => (this.pinned = found));
    this.#sheet = sections((found) => (this.sheet = found));
    this.#after = new Latest(
      (w) => asked(w, none),
      (a, w) => (this.after = figured(w.of, a)),
      quiet,
    );
    this.#still = new Latest(
      (w) => asked(w, this.#stillKept),
      (a, w) => {
        const { ground, strip } = a.products;
        if (!ground || !strip) return;
        this.still = { ...figured(w.of, a), key: w.key, drawn: w.drawn, ground, strip };
        this.missing = null;
      },
      quiet,
    );
  }

  askLine(of: Case, want: ProductName[]): void {
    // What a trial showed is what its save shows: that is not asked for again.
    if (sameCase(this.#asked?.of ?? null, of) && this.#asked?.want.join() === want.join()) return;
    this.#asked = { of, want };
    this.#live.want({ of, want, at_m: null });
  }

  askBare(project: number, revision: number, road: string): void {
    const of = { project, revision, slot: null, road, ips: null, edits: [] };
    this.#bare.want({ of, want: ['utilities', 'controls'], at_m: null });
  }

  askSection(of: Case, at_m: number): void {
    if (sameCase(this.#cut?.of ?? null, of) && this.#cut?.at_m === at_m) return;
    this.#cut = { of, at_m };
    this.#section.want({ of, want: ['section'], at_m });
  }

  /** Sections at some chainages at once. */
  askSections(of: Case, some_m: number[], whose: 'pinned' | 'sheet'): void {
    const wish = { of, want: ['sections' as const], at_m: null, some_m };
    (whose === 'pinned' ? this.#pinned : this.#sheet).want(wish);
  }

  askAfter(of: Case, want: ProductName[]): void {
    this.#after.want({ of, want, at_m: null });
  }

  askStill(project: number, revision: number, road: string, key: string, drawn = key): void {
    const of = { project, revision, slot: null, road, ips: null, edits: [] };
    this.#still.want({ of, want: ['ground', 'plan', 'strip', 'lean'], at_m: null, key, drawn });
  }

  /** Figures of a line that is only drawn beside the present one. */
  async beside(of: Case, want: ProductName[] = ['line'], some_m?: number[]): Promise<Figured> {
    return figured(of, await asked({ of, want, at_m: null, some_m }, new KeptArrays()));
  }

  #refused(error: unknown): void {
    this.#asked = this.#cut = null;
    if (error instanceof ApiError && error.problem.step) {
      this.missing = { step: error.problem.step, message: error.message };
      if (error.problem.step === 'survey' || error.problem.step === 'centreline') this.still = null;
    } else if (error instanceof ApiError && error.status >= 400) this.failed = error.message;
    else if (!(error instanceof ApiError && error.away)) this.notices.tell(error);
  }
}
