import { getContext, setContext } from 'svelte';
import { api, ask, type Edit, type Finding, type Ip, type Saved } from '../../api/client';
import { PRODUCTS, type ProductName } from '../../api/fields';
import { failing } from '../findings';
import { Beside } from './beside.svelte';
import { Calm } from './calm.svelte';
import { keptDraft } from './drafts';
import { Drawing } from './drawing.svelte';
import { Figures, findingsOf, sameCase, type Case, type Figured, type Still } from './figures.svelte';
import { Hand, ringsOf } from './hand.svelte';
import { Hunt } from './hunt.svelte';
import { Intake } from './intake.svelte';
import { Searching } from './jobs.svelte';
import { Land } from './land.svelte';
import { Layout } from './layout.svelte';
import { Making } from './making';
import { MapLook } from './map.svelte';
import { Notices } from './notices.svelte';
import { Past } from './past.svelte';
import { Overlays } from './overlays.svelte';
import { ProjectStore, type Change } from './project.svelte';
import { Refused, type WayOn } from './refused.svelte';
import { Sections } from './sections.svelte';
import { Selection } from './selection.svelte';
import type { Address } from '../address';
import type { LongView, Shown, TrackShown } from './shown';
import { Spots } from './spots.svelte';
import { system } from '../system.svelte';
import { Walk } from './walk.svelte';
import { Trial } from './trial.svelte';
import { Written } from './written.svelte';

/** Wanted of the line on screen whatever is drawn: ledger, card, list of failures and plan stand always. */
const ALWAYS: ProductName[] = ['line', 'ledger', 'uses', 'works', 'utilities'];

const WAITS: ReadonlySet<ProductName> = new Set(PRODUCTS.filter((p) => p.when === 'AFTER').map((p) => p.name));

/** One open project: the parts of its state, each with one writer, and what joins them. */
export class Work {
  readonly beside = new Beside();
  readonly notices = new Notices();
  readonly store = new ProjectStore();
  readonly figures = new Figures(this.notices);
  readonly selection = new Selection();
  readonly layout: Layout;
  readonly land = new Land(this.notices);
  readonly map: MapLook;
  readonly written = new Written();
  readonly spots = new Spots();
  readonly hunt = new Hunt(this.notices);
  readonly hand = new Hand(this.land, (change) => this.save(change));
  /** What could not be, and ways on from it. */
  readonly refused = new Refused((of) => this.figures.beside(of));
  readonly past = new Past(
    () => ({ project: this.project, slot: this.selection.slot }),
    (of) => this.figures.beside(of, ['line', 'ledger', 'uses']),
    (change) => this.save(change),
  );
  readonly trial = new Trial(
    (edit) => this.#keepTried(edit),
    () => this.ledger,
  );
  readonly walk = new Walk();
  readonly sections = new Sections(
    () => this.project,
    (change) => this.save(change),
  );
  readonly jobs = new Searching(this.notices, () => void this.over.drawFound());
  readonly intake = new Intake(this.notices, (revision) => this.store.reach(revision));
  readonly drawing = new Drawing(
    () => {
      const p = this.project;
      const equations = (p?.equations?.rows ?? []).filter((row) => row.road === this.road?.slot);
      const line = this.line?.slot ?? null;
      return p && { id: p.id, revision: p.revision, saved: this.road, equations, line };
    },
    () => this.beside.offsets,
    (change) => this.save(change),
    () => {
      // On to the next step of the work, unless whoever saved went elsewhere meanwhile.
      if (!this.missing && this.lines.length === 0 && this.selection.step === 'centreline') this.goToStep('limits');
    },
  );
  readonly making = new Making(
    (change) => this.save(change),
    () => ({ road: this.road?.slot ?? 'centreline', line: this.line }),
    this.notices,
  );
  /** Lines that are drawn over the present one. */
  readonly over = new Overlays(
    () => ({
      project: this.project,
      slot: this.selection.slot,
      found: this.selection.step === 'search' && this.still ? (this.jobs.job?.result ?? null) : null,
    }),
    (of) => this.figures.beside(of, ['line', 'ledger', 'uses']),
    this.notices,
  );

  project = $derived(this.store.project);
  /** The road that is looked at, and its grade lines. */
  road = $derived.by(() => {
    const all = this.project?.centrelines ?? [];
    return all.find((c) => c.slot === this.selection.road) ?? all[0] ?? null;
  });
  lines = $derived((this.project?.lines ?? []).filter((l) => l.road === this.road?.slot));
  notes = $derived((this.project?.notes?.rows ?? []).filter((n) => n.road === this.road?.slot));
  line = $derived(this.project?.lines.find((l) => l.slot === this.selection.slot) ?? null);
  /** The line on screen: as saved, with what is on its way and what is being tried. */
  case: Case | null = $derived.by(() => {
    const p = this.project;
    const slot = this.selection.slot;
    if (!p || !slot || !this.line) return null;
    const pending = this.store.pending(slot);
    const edits = this.trial.draft ? [...pending, this.trial.draft] : pending;
    return { project: p.id, revision: p.revision, slot, ips: null, edits, read: system() };
  });
  /** Figures of this line, though perhaps of an earlier state of it. */
  shownFigures: Figured | null = $derived(
    this.line && this.figures.line?.of.slot === this.line.slot ? this.figures.line : null,
  );
  /** What has the level controls and utilities to be drawn: the line's figures, or those of a road without one. */
  marked: Figured | null = $derived.by(() => {
    const bare = this.figures.bare;
    return this.shownFigures ?? (this.lines.length === 0 && bare?.of.road === this.road?.slot ? bare : null);
  });
  /** What stands beside the tracks (plan, section, table of IPs) is made of these. */
  readonly aside = new Calm<{ figures: Figured | null; plumb: number }>({ figures: null, plumb: 0 });
  /** Whether every figure on screen belongs to the line on screen. */
  fresh = $derived(sameCase(this.figures.line?.of ?? null, this.case));
  still: Still | null = $derived(this.project?.surveys.length && this.road ? this.figures.still : null);
  stillFresh = $derived(this.still !== null && this.still.key === this.road?.still_key);
  ips: Ip[] = $derived(this.shownFigures?.products.line?.ips ?? this.line?.ips ?? []);
  ledger = $derived(this.shownFigures?.products.ledger ?? null);
  findings: Finding[] = $derived(findingsOf(this.shownFigures));
  /** IPs with failures, by number. */
  failingIps = $derived(failing(this.findings));
  ip: Ip | null = $derived(this.selection.ip === null ? null : (this.ips[this.selection.ip] ?? null));
  missing = $derived.by(() => {
    const p = this.project;
    if (!p) return null;
    if (!p.surveys.length) return { step: 'survey', message: 'There is no survey yet: import one.' };
    if (!this.road) return { step: 'centreline', message: 'There is no centreline yet: draw it, or read a file.' };
    return this.figures.missing;
  });
  /** Tracks that are shown, from the top. */
  tracks: TrackShown[] = $derived.by(() =>
    this.layout.shown(this.selection.step).flatMap((id) => {
      const track = this.shown.tracks.find((t) => t.id === id);
      return track && (track.when?.(this) ?? true) ? [track] : [];
    }),
  );
  #needed: ProductName[] = $derived(
    [...ALWAYS, ...this.selection.wants, ...this.tracks.flatMap((t) => t.needs)].filter(
      (name, i, all) => all.indexOf(name) === i,
    ),
  );
  /** Products that go with every move, and those that wait until nothing is tried. */
  wanted: ProductName[] = $derived(this.#needed.filter((name) => !WAITS.has(name)));
  wantedAfter: ProductName[] = $derived(this.#needed.filter((name) => WAITS.has(name)));
  /** Names the surveys together, without what was changed by hand; empty without any. */
  surveyed = $derived(
    (this.project?.surveys ?? []).map((s) => `${s.slot} ${s.file_sha256} ${s.longest_edge_m} ${s.point_count}`).join(),
  );
  /** Boundaries of the ground and holes in it, each as its corners. */
  rings: [number, number][][] = $derived(
    ringsOf(this.project?.outline?.rows ?? []).map((ring) => ring.map((r) => [r.easting_m, r.northing_m])),
  );
  /** Whether the line moves under the hand, or what was done to it is on its way. */
  trying = $derived(this.trial.draft !== null || this.store.saving);
  /** Suspects that nothing was decided about yet, with their place in the list. */
  suspects = $derived.by(() => {
    const decided = this.land.decided;
    return this.hunt.all.flatMap((s, i) =>
      decided.has(`${s.easting_m} ${s.northing_m} ${s.level_m}`) ? [] : [{ s, i }],
    );
  });
  /** Whether what is typed of the centreline is in hand: undo and redo are its own then. */
  drafting = $derived(this.selection.step === 'centreline' && this.drawing.dirty);
  /** Whether there is anything to undo, and to redo. */
  turns: [boolean, boolean] = $derived.by(() => {
    const { undo, redo } = this.project?.history ?? { undo: null, redo: null };
    const [back, again] = this.selection.step === 'centreline' ? this.drawing.turns : [false, false];
    return [back || undo !== null || this.trying, again || redo !== null];
  });
  /** Scale of heights of the long section. */
  long: LongView = $derived.by(() => this.shown.long(this));
  /** Where the page stands, for whoever watches from outside. */
  state = $derived.by(() => {
    if (!this.project) return 'opening';
    if (this.trial.draft) return 'trying';
    if (this.store.saving) return this.store.away ? 'waiting' : 'saving';
    if (this.missing || this.figures.failed) return 'saved';
    if (!this.line) return this.stillFresh ? 'saved' : 'following';
    return this.fresh && this.stillFresh ? 'saved' : 'following';
  });

  constructor(private readonly shown: Shown) {
    const of = (step: string) => shown.steps.find((s) => s.id === step);
    this.layout = new Layout(
      shown.tracks.map((t) => t.id),
      (step) => of(step)?.tracks ?? [],
    );
    this.map = new MapLook((step) => of(step)?.map ?? []);
  }

  /** Open a project, at a step and with a line where the address names them. */
  async open(id: number, at: Address = { step: null, line: null }): Promise<void> {
    const typed = keptDraft(id);
    const before = this.selection.step;
    await this.store.load(id);
    const p = this.project;
    if (typed && (typed.on === null || p?.centrelines.some((c) => c.slot === typed.on))) {
      this.selection.road = typed.on ?? this.selection.road;
      this.drawing.takeUp(typed);
      this.notices.say('What was typed of the centreline and not saved is here again.');
    }
    const named = p?.lines.find((l) => l.slot === at.line);
    if (named) {
      this.selection.road = named.road;
      this.take(named.slot);
    }
    // Whoever chose a step meanwhile stays there.
    if (this.selection.step === before && this.shown.steps.some((s) => s.id === at.step))
      this.selection.step = at.step!;
    else if (this.selection.step === before)
      this.selection.step = !p?.surveys.length ? 'survey' : !p.centrelines.length ? 'centreline' : 'line';
    await Promise.all([this.jobs.follow(id), this.hunt.follow(id), this.intake.follow(id)]);
  }

  /** Ask again for all that says numbers in words, once they are read in other units. */
  async reread(): Promise<void> {
    const id = this.project?.id;
    if (id === undefined) return;
    this.refused.drop();
    this.trial.flush();
    if (!this.store.saving) await this.store.load(id);
    await Promise.all([this.jobs.follow(id), this.hunt.follow(id), this.intake.follow(id)]);
  }

  close(): void {
    // What is on its way goes on: the queue is emptied also after the page was left.
    this.trial.flush();
    this.jobs.close();
    this.hunt.close();
    this.intake.close();
  }

  /** Look whether another tab has saved, when this one comes back to the front. */
  async look(): Promise<void> {
    if (this.trial.draft) return;
    try {
      if (await this.store.look()) this.notices.say('Shown as saved elsewhere since.');
    } catch {
      // Nothing was asked for: whoever saves next is told that the server is away.
    }
  }

  // Looking

  /** Look at another road, with the first of its grade lines. */
  chooseRoad(slot: string): void {
    this.trial.flush();
    this.selection.road = slot;
    this.drawing.turnTo();
    this.take(this.lines[0]?.slot ?? null);
  }

  choose(slot: string): void {
    if (slot === this.selection.slot) return;
    this.trial.flush();
    this.take(slot);
  }

  /** Make a line the present one, whatever is being tried. */
  take(slot: string | null): void {
    this.refused.drop();
    this.selection.slot = slot;
    this.selection.ip = null;
  }

  select(ip: number | null): void {
    if (ip !== this.selection.ip) {
      this.trial.flush();
      this.refused.drop();
    }
    this.selection.ip = ip;
    const at = ip === null ? null : this.ips[ip];
    if (at) {
      this.selection.axes.reveal(at.chainage_m);
      this.selection.setPlumb(at.chainage_m);
    }
  }

  /** Go to what a finding is about. */
  goTo(u: Finding): void {
    if (u.place === 'stretch') {
      this.selection.pinned = true;
      this.selection.setPlumb(u.from_chainage_m);
      this.selection.axes.reveal(u.from_chainage_m);
    } else this.select(u.ip);
  }

  goToStep(step: string): void {
    this.trial.flush();
    this.selection.step = step;
    void this.over.drawFound();
  }

  // Trying

  try(edit: Edit): void {
    if (this.#isFinal(edit)) return;
    this.trial.try(edit);
  }

  /** A final line does not move; what could be done instead is said. */
  #isFinal(edit: Edit): boolean {
    if (this.line?.status !== 'final') return false;
    if (!this.refused.now) void this.askWays(edit);
    return true;
  }

  cancel(): void {
    if (!this.trial.cancel()) return;
    const held = this.selection.ip === null ? undefined : this.line?.ips[this.selection.ip];
    if (held) this.selection.setPlumb(held.chainage_m);
  }

  /** Move the selected IP by keys. */
  nudge(along: number, up: number): void {
    const at = this.selection.ip;
    if (at === null || !this.ip) return;
    const d = this.trial.draft;
    const held = d?.what === 'move' && d.ip === at ? d : this.ip;
    const level_m = held.level_m + up;
    const edit = { what: 'move', ip: at, chainage_m: held.chainage_m + along, level_m, slide: true } as const;
    if (!this.#isFinal(edit)) this.trial.nudge(edit);
  }

  // Saving

  /** Save any change of the project; the reason where it is refused. */
  save(change: Change): Promise<string | null> {
    this.trial.flush();
    return this.store.save(change, (saved) => this.#follow(saved));
  }

  #follow(saved: Saved): void {
    const gone = saved.fell_off ?? [];
    if (gone.length)
      this.notices.tell(`No place on the new centreline, so it was let go: ${gone.join('; ')}. Undo brings it back.`);
    if (saved.road && saved.road !== this.selection.road) this.chooseRoad(saved.road);
    if (saved.slot && saved.slot !== this.selection.slot) this.take(saved.slot);
    // While the next edit is tried, the hand is where it is.
    if (typeof saved.selected === 'number' && !this.trial.draft) this.select(saved.selected);
  }

  /** What an edit could not do for each IP: the first of them in words, the others are findings. */
  #said(all: string[]): void {
    if (!all.length) return;
    const more = all.length > 3 ? ` And ${all.length - 3} more, each in the list of findings.` : '';
    this.notices.say(all.slice(0, 3).join(' ') + more, true);
  }

  /** Apply and save one edit of the present line; the reason where it is refused. */
  apply(edit: Edit): Promise<string | null> {
    const slot = this.selection.slot;
    if (!slot) return Promise.resolve(null);
    if (this.trial.draft !== edit) this.trial.flush();
    const mine = { name: this.line?.name ?? 'line', ips: this.ips };
    this.refused.drop();
    const saved = this.store.save(
      {
        what: 'the edit of the grade line',
        edit: { slot, edit },
        line: mine,
        send: ({ path, base, token }) =>
          ask(
            api.POST('/api/projects/{project_id}/lines/{slot}/edits', {
              params: { path: { ...path, slot } },
              body: { base, token, edit },
            }),
          ),
      },
      (saved) => {
        this.#follow(saved);
        this.#said(saved.said ?? []);
      },
    );
    return saved.then(async (why) => {
      if (why && !this.store.conflict) await this.askWays(edit);
      return why;
    });
  }

  /** Ask what could be instead of an edit of the present line that can't. */
  async askWays(edit: Edit): Promise<void> {
    const of = this.case;
    if (of) await this.refused.ask({ ...of, edits: this.store.pending(of.slot) }, edit);
  }

  takeWay(way: WayOn): void {
    void this.refused.look(null);
    this.act(this.apply(way.edit as unknown as Edit));
  }

  /** Save what was tried; where a drag stopped short of where it was to go, say what could be instead. */
  async #keepTried(edit: Edit): Promise<string | null> {
    const why = await this.#tell(this.apply(edit));
    const slides = edit.what === 'straight' || ((edit.what === 'move' || edit.what === 'move_many') && edit.slide);
    if (!why && slides) void this.askWays(edit);
    return why;
  }

  /** Do it, and tell where it is refused: for what has no field beside which the reason could stand. */
  act(doing: Promise<string | null>): void {
    void this.#tell(doing);
  }

  async #tell(doing: Promise<string | null>): Promise<string | null> {
    const why = await doing;
    // A conflict is told in a place of its own, and so is what has ways on.
    const shown = this.selection.step === 'line' && this.refused.now?.reason === why;
    if (why && !this.store.conflict && !shown) this.notices.tell(why);
    return why;
  }

  async turn(kind: 'undo' | 'redo'): Promise<void> {
    if (this.drafting && this.drawing.turn(kind)) return;
    let label: string | null = null;
    const url = kind === 'undo' ? '/api/projects/{project_id}/undo' : '/api/projects/{project_id}/redo';
    const why = await this.#tell(
      this.save({
        what: kind,
        send: ({ path, base, token, project }) => {
          label = project.history[kind];
          return ask(api.POST(url, { params: { path }, body: { base, token } }));
        },
      }),
    );
    if (!why && label) this.notices.say(`${kind === 'undo' ? 'Undone' : 'Redone'}: ${label}`);
  }

  /** After a conflict: show what was saved elsewhere; "again" does mine on top, "beside" keeps mine as a line. */
  async settle(how: 'theirs' | 'again' | 'beside'): Promise<void> {
    const line = this.store.conflict?.change.line;
    try {
      const why = await this.store.settle(how === 'again');
      if (why && !this.store.conflict) this.notices.tell(why);
      if (how === 'beside' && line) await this.#tell(this.making.adopt(`${line.name} (mine)`, line.ips));
    } catch (error) {
      this.notices.tell(error);
    }
  }

  // The search

  async startSearch(): Promise<void> {
    this.trial.flush();
    const [p, slot] = [this.project, this.selection.slot];
    if (!p || !slot) return;
    this.over.found = null;
    await this.jobs.start(p.id, p.revision, slot);
  }
}

const KEY = Symbol('work');

/** Hand the open project to everything inside a component. */
export function provideWork(work: Work): Work {
  return setContext(KEY, work);
}

export function useWork(): Work {
  return getContext<Work>(KEY);
}
