import { api, ask, type Saved, type Schemas } from '../../api/client';
import type { Equation } from '../stations.svelte';
import { Latest } from './latest';
import {
  at,
  cornerOf,
  draftOf,
  ended,
  extended,
  near,
  NO_BEND,
  told,
  type Body,
  type Draft,
  type Kept,
  type Plan,
  type PlanRow,
  type Planned,
} from './planned';
import type { Change } from './project.svelte';
import { spliced, stretchOf, type Stretch } from './stretch';

export type Keeps = NonNullable<Schemas['CentrelineIn']['keeps']>;
export type { Kept } from './planned';

const PLACE = { easting_m: 0, northing_m: 0 };
const NO_MEETING = { start: null, end: null };
// Of a line with more IPs only what moves with one under the hand is asked for, and the rest when the hand rests.
const MANY_IPS = 60;
const RESTS_MS = 300;

/** Behind the slot of a line that an end meets: its grade is taken too. */
export const WITH_GRADE = '+';
const lineOf = (met: string) => met.replace(WITH_GRADE, '');

/**
 * The centreline that is typed, drawn or dragged, until it is saved or put back: one writer for grid, map and section.
 * It stays with the project while another step is looked at; the rules of bends are the server's.
 */
export class Drawing {
  /** What is typed; null where nothing is. */
  rows = $state.raw<PlanRow[] | null>(null);
  start = $state<number | null>(null);
  name = $state<string | null>(null);
  /** Slots of other roads' grade lines that hand their level to its ends; empty for none, null where not typed. */
  meets = $state.raw<{ start: string | null; end: string | null }>(NO_MEETING);
  /** Its chainage equations, where they are typed. */
  typedEquations = $state.raw<Equation[] | null>(null);
  /** Whether it is a further road that is typed, and none that is saved. */
  further = $state(false);
  /** The IP that is worked on. */
  current = $state<number | null>(null);
  /** Where the next IP would be, while the line is drawn. */
  rubber = $state.raw<[number, number] | null>(null);
  /** Whether bends give way where there is no room for them: while the line is drawn. */
  drawing = $state(false);
  /** What corners that are drawn begin with. */
  bend = $state.raw<Schemas['UsualBend'] | null>(null);
  /** What whatever stands at a chainage keeps when the centreline is another one. */
  keeps = $state<Keeps>('place');
  /** Bends that were made smaller than the standard, or than they were drawn. */
  misfits = $state.raw<Schemas['Misfit'][]>([]);
  /** How many lines were brought in from files. */
  brought = $state(0);
  /** Vertices (easting, northing, level) of the line in space that was brought, and whether its levels go along. */
  space = $state.raw<number[][] | null>(null);
  levelled = $state(true);
  /** Why it can't be saved, where the server says so only then. */
  refused = $state<string | null>(null);
  /** What is known of it; of the state before while the newest is on its way. */
  draft = $state.raw<Draft | null>(null);
  #failed = $state<string | null>(null);
  /** Whether what is typed can be undone, and redone. */
  turns = $state.raw<[boolean, boolean]>([false, false]);
  #past: (PlanRow[] | null)[] = [];
  #future: (PlanRow[] | null)[] = [];
  #held: 'held' | 'moved' | null = null;
  #clean = false;
  /** The newest answer about all of the line, and the IP that alone moved since. */
  #whole: Draft | null = null;
  #alone: number | null = null;
  /** The stretch asked about last, and what asks about all of the line instead. */
  #part: PlanRow[] | null = null;
  #all: () => void = () => undefined;
  #rest: ReturnType<typeof setTimeout> | undefined;
  #latest: Latest<{ project: number; body: Body; stretch?: Stretch }, Draft>;

  /** The IPs as they stand: typed, or saved. */
  saved: Schemas['CentrelineOut'] | null = $derived.by(() => (this.further ? null : (this.of()?.saved ?? null)));
  ips: PlanRow[] = $derived(this.rows ?? this.saved?.ips ?? []);
  equations: Equation[] = $derived.by(() => this.typedEquations ?? (this.further ? [] : (this.of()?.equations ?? [])));
  startM: number = $derived(this.start ?? this.saved?.start_chainage_m ?? 0);
  dirty = $derived(
    [this.rows, this.start, this.name, this.meets.start, this.meets.end, this.typedEquations].some(
      (typed) => typed !== null,
    ),
  );
  /** The same with the IP under the pointer. */
  asked: PlanRow[] = $derived.by(() => {
    const next = this.rubber;
    if (!this.drawing || !next) return this.ips;
    const last = this.ips[this.ips.length - 1];
    if (last && near(last, next)) return this.ips;
    return extended(this.ips, next, this.bend);
  });
  problem: string | null = $derived(this.refused ?? this.#failed ?? this.draft?.problem?.message ?? null);
  plan: Plan = $derived.by(() => {
    const { plan_e: e, plan_n: n } = this.draft?.arrays ?? {};
    const line = e && n ? { e, n } : null;
    return {
      ips: this.asked,
      line: this.asked.length > 1 ? line : null,
      saved: !this.dirty && !this.rubber,
      current: this.current,
      bends: this.draft?.bends ?? [],
    };
  });

  constructor(
    private readonly of: () => Planned | null,
    /** Offsets whose ground is drawn beside the line's own. [m] */
    private readonly beside: () => number[],
    private readonly send: (change: Change) => Promise<string | null>,
    private readonly done: () => void,
  ) {
    this.#latest = new Latest(
      ({ project, body }) => draftOf(project, body),
      (draft, { body, stretch }) => this.#know(draft, body, stretch),
      (error) => (this.#failed = error instanceof Error ? error.message : String(error)),
    );
  }

  /** Ask what there is to know of the line as it stands now. */
  follow(): void {
    const p = this.of();
    const ips = this.asked;
    const [start_chainage_m, fit, beside_m] = [this.startM, this.drawing, this.beside()];
    const [start_meets, end_meets] = [lineOf(this.met('start')), lineOf(this.met('end'))];
    const [line, keeps] = [this.further ? '' : (p?.line ?? ''), this.keeps];
    clearTimeout(this.#rest);
    if (!p || ips.length < 2) {
      this.draft = this.#whole = this.#failed = null;
      return;
    }
    const more = { fit, start_meets, end_meets, line, keeps };
    const whole = { revision: p.revision, start_chainage_m, ips, beside_m, ...more };
    const alone = this.#held === 'moved' && ips.length >= MANY_IPS && !this.drawing ? this.current : null;
    if (alone === null || !this.#whole || (this.#alone ?? alone) !== alone) {
      this.#latest.want({ project: p.id, body: whole });
      return;
    }
    this.#alone = alone;
    const stretch = stretchOf(this.#whole, start_chainage_m, ips, alone);
    const none = { beside_m: [], line: '', start_meets: '', end_meets: '' };
    const body = { ...whole, ...none, start_chainage_m: stretch.startM, ips: stretch.ips };
    this.#part = stretch.ips;
    this.#latest.want({ project: p.id, body, stretch });
    this.#all = () => this.#latest.want({ project: p.id, body: whole });
    this.#rest = setTimeout(this.#all, RESTS_MS);
  }

  #know(draft: Draft, body: Body, stretch?: Stretch): void {
    this.#failed = null;
    if (stretch) {
      // What is wrong, and what would mend it, is said of the whole line.
      if (draft.problem && body.ips === this.#part) this.#all();
      else if (!draft.problem && this.#whole) this.draft = spliced(this.#whole, this.startM, stretch, draft);
      return;
    }
    // Of an earlier state only what could be drawn counts.
    if (body.ips !== this.asked && draft.problem) return;
    // What is drawn stays while an IP is where its bends find no room.
    if (this.draft && draft.length_m === null) this.draft = { ...this.draft, ...told(draft) };
    else {
      this.draft = this.#whole = draft;
      this.#alone = null;
    }
  }

  // Dragging

  /** Take hold of an IP; let go, a line that was as saved is saved again, as any drag is. */
  take(ip: number): void {
    this.current = ip;
    this.#clean = !this.dirty && this.saved !== null;
    this.#held = 'held';
  }

  release(): void {
    const moved = this.#held === 'moved';
    this.#held = null;
    if (moved && this.#clean && !this.drawing) void this.save(true);
    else if (moved) this.follow();
  }

  // Typing

  change(rows: PlanRow[]): void {
    // A drag is one step to undo.
    if (this.#held !== 'moved') this.#past.push(this.rows);
    if (this.#held) this.#held = 'moved';
    this.#future = [];
    this.#set(rows);
  }

  #set(rows: PlanRow[] | null): void {
    this.rows = rows;
    this.refused = null;
    this.misfits = [];
    this.turns = [this.#past.length > 0, this.#future.length > 0];
  }

  /** Undo or redo what was typed and is not saved yet; whether there was anything. */
  turn(kind: 'undo' | 'redo'): boolean {
    const [from, to] = kind === 'undo' ? [this.#past, this.#future] : [this.#future, this.#past];
    if (!from.length) return false;
    to.push(this.rows);
    this.#set(from.pop()!);
    return true;
  }

  /** Take IPs that were read or fitted; `space` are the vertices of the line in space that they are of. */
  bring(rows: PlanRow[], space: number[][] = []): void {
    this.change(rows);
    this.space = space.length ? space : null;
    this.brought++;
  }

  type(i: number, values: Partial<PlanRow>): void {
    this.change(this.ips.map((row, k) => (k === i ? { ...row, ...values } : row)));
  }

  remove(gone: number[]): void {
    this.change(ended(this.ips.filter((_, i) => !gone.includes(i))));
    this.current = null;
  }

  /** A new IP halfway between this one and the next. */
  insert(after: number): void {
    const [a, b] = [this.ips[after], this.ips[after + 1]];
    if (!a || !b) this.change([...this.ips, { ...PLACE, ...NO_BEND }]);
    else this.insertAt(after + 1, (a.easting_m + b.easting_m) / 2, (a.northing_m + b.northing_m) / 2);
    this.current = after + 1;
  }

  insertAt(at_: number, easting_m: number, northing_m: number): void {
    const row = { ...NO_BEND, ...cornerOf(this.bend), easting_m: at(easting_m), northing_m: at(northing_m) };
    this.change([...this.ips.slice(0, at_), row, ...this.ips.slice(at_)]);
    this.current = at_;
  }

  /** Put an IP elsewhere. */
  move(ip: number, easting_m: number, northing_m: number): void {
    this.type(ip, { easting_m: at(easting_m), northing_m: at(northing_m) });
  }

  mend(remedy: Schemas['PlanRemedyOut']): void {
    this.change(this.ips.map((row, i) => remedy.changes.find((c) => c.at === i)?.ip ?? row));
  }

  putBack(): void {
    this.start = this.rubber = this.name = this.typedEquations = this.space = null;
    this.levelled = true;
    this.meets = NO_MEETING;
    this.further = false;
    this.drawing = false;
    [this.#past, this.#future] = [[], []];
    this.#set(null);
  }

  // Roads

  /** Slot of the other road's grade line that an end meets, marked where its grade is taken too; empty for none. */
  met(end: 'start' | 'end'): string {
    const s = this.saved;
    const [slot, grade] = end === 'start' ? [s?.start_meets, s?.start_takes_grade] : [s?.end_meets, s?.end_takes_grade];
    return this.meets[end] ?? (slot ? slot + (grade ? WITH_GRADE : '') : '');
  }

  /** Begin a further road: from nothing, or as a copy of this one that is then another option. */
  begin(copied: boolean): void {
    const { ips, startM } = this;
    const name = this.saved?.name;
    this.putBack();
    this.further = true;
    this.#set(copied ? ips : []);
    if (copied) [this.start, this.name] = [startM, `${name ?? 'road'} option`.slice(0, 60)];
  }

  /** Another road is looked at: what is said of the one before goes. */
  turnTo(): void {
    this.putBack();
    this.current = this.draft = this.#whole = null;
  }

  // Keeping

  /** What is typed, for the page that is opened next; null where nothing is. */
  get kept(): Kept | null {
    if (!this.dirty) return null;
    const { rows, start, name, meets, typedEquations, further } = this;
    return { rows, start, name, meets, typedEquations, further, on: this.saved?.slot ?? null };
  }

  /** Take up what was typed in a page that was closed. */
  takeUp(kept: Kept): void {
    this.further = kept.further;
    [this.start, this.name, this.meets] = [kept.start, kept.name, kept.meets];
    this.typedEquations = kept.typedEquations;
    this.rows = kept.rows;
  }

  // Drawing

  /** Begin to draw at the line's end, or from nothing; corners begin with the usual bend. */
  async draw(): Promise<void> {
    this.drawing = true;
    const p = this.of();
    if (this.bend || !p) return;
    const query = { revision: p.revision };
    const path = { project_id: p.id };
    this.bend = await ask(api.GET('/api/projects/{project_id}/centreline/usual', { params: { path, query } }));
  }

  /** A click while the line is drawn: its next IP; false where it is the last one again. */
  append(easting_m: number, northing_m: number): boolean {
    const [last, next] = [this.ips[this.ips.length - 1], [easting_m, northing_m] as [number, number]];
    if (last && near(last, next)) return false;
    this.change(extended(this.ips, next, this.bend));
    this.current = this.ips.length - 1;
    return true;
  }

  takeBack(): void {
    if (this.ips.length) this.change(ended(this.ips.slice(0, -1)));
  }

  /** The line is drawn: its bends stay as large as there was room for. */
  async drawn(): Promise<void> {
    this.rubber = null;
    const p = this.of();
    if (p && this.rows && this.rows.length > 1) {
      const more = { fit: true, start_meets: '', end_meets: '', line: '', keeps: this.keeps };
      const body = { revision: p.revision, start_chainage_m: this.startM, ips: this.rows, ...more };
      try {
        const { ips, misfits } = await draftOf(p.id, body);
        if (ips && body.ips === this.rows) {
          this.change(ips);
          this.misfits = misfits;
        }
      } catch (error) {
        this.#failed = error instanceof Error ? error.message : String(error);
      }
    }
    this.drawing = false;
  }

  /** All corners get the bends that the rules ask for at the design speed. */
  async standard(): Promise<void> {
    const p = this.of();
    if (!p) return;
    const body = { revision: p.revision, start_chainage_m: this.startM, ips: this.ips };
    try {
      const path = { project_id: p.id };
      const made = await ask(api.POST('/api/projects/{project_id}/centreline/standard', { params: { path }, body }));
      this.change(made.ips);
      this.misfits = made.misfits;
    } catch (error) {
      this.refused = error instanceof Error ? error.message : String(error);
    }
  }

  // Saving

  /** Save it and go on with what is next, or stay where a drag was. */
  async save(stay = false): Promise<void> {
    // What is being drawn is made to fit first.
    if (this.drawing) await this.drawn();
    const sent = {
      road: this.further ? null : (this.saved?.slot ?? 'centreline'),
      name: this.name,
      start_meets: this.meets.start === null ? null : lineOf(this.meets.start),
      end_meets: this.meets.end === null ? null : lineOf(this.meets.end),
      start_takes_grade: this.meets.start === null ? null : this.meets.start.endsWith(WITH_GRADE),
      end_takes_grade: this.meets.end === null ? null : this.meets.end.endsWith(WITH_GRADE),
      start_chainage_m: this.startM,
      ips: this.ips,
      keeps: this.keeps,
      equations: this.typedEquations,
      space: this.space && this.levelled ? this.space : [],
    };
    const why = await this.send({
      what: 'the centreline',
      send: ({ path, base, token }) =>
        ask<Saved>(
          api.PUT('/api/projects/{project_id}/centreline', { params: { path }, body: { base, token, ...sent } }),
        ),
    });
    // What was typed meanwhile stands.
    if (this.rows !== null && this.rows !== sent.ips) return;
    this.refused = why;
    if (why) return;
    const { misfits } = this;
    this.putBack();
    this.misfits = misfits;
    if (!stay) this.done();
  }
}
