import { api, ApiError, ask, preview, terrain } from '../../api/client';
import type { Edit, Figures, Finding, Ip, Ledger, Project, Schemas, Search, Terrain } from '../../api/client';
import { Axes } from './axes.svelte';
import { Latest } from './latest';

export type Step = 'survey' | 'centreline' | 'limits' | 'section' | 'line' | 'search';
type Question = { project: number; slot: string; body: Schemas['PreviewIn'] };

/** What another tab saved under our hands: nothing was overwritten, both are offered. */
export interface Conflict {
  message: string;
  ips: Ip[] | null;
  name: string;
}

/** IPs as they are typed and sent, without what follows from them. */
export function typedIps(ips: Ip[]): Schemas['IpIn'][] {
  return ips.map(({ chainage_m, level_m, curve_length_m, held_k_m_per_pct }) => ({
    chainage_m,
    level_m,
    curve_length_m,
    held_k_m_per_pct,
  }));
}

/** One open project: what is saved, what is being tried, and the figures that belong to what is on screen. */
export class Workspace {
  project = $state.raw<Project | null>(null);
  terrain = $state.raw<Terrain | null>(null);
  /** What must be done first, where the terrain cannot be met yet. */
  missing = $state<{ step: string; message: string } | null>(null);
  step = $state<Step>('line');
  slot = $state<string | null>(null);
  figures = $state.raw<Figures | null>(null);
  /** Ledger as it was when the present edit began. */
  before = $state.raw<Ledger | null>(null);
  draft = $state.raw<Edit | null>(null);
  selected = $state<number | null>(null);
  plumb = $state(0);
  pinned = $state(false);
  shown = $state.raw<Record<string, Figures>>({});
  search = $state.raw<Search | null>(null);
  found = $state.raw<Figures | null>(null);
  notice = $state<{ text: string; bad: boolean } | null>(null);
  conflict = $state.raw<Conflict | null>(null);
  saving = $state(false);
  readonly axes = new Axes();
  #live: Latest<Question, Figures>;
  #terrainKey = '';

  constructor() {
    this.#live = new Latest(
      (q) => preview(q.project, q.slot, q.body),
      (figures, q) => {
        if (q.slot === this.slot && q.project === this.project?.id) this.figures = figures;
      },
      (error) => this.tell(error),
    );
  }

  line = $derived(this.project?.lines.find((l) => l.slot === this.slot) ?? null);
  /** IPs of the line on screen, with the edit that is being tried. */
  ips: Ip[] = $derived(this.figures?.ips ?? this.line?.ips ?? []);
  findings: Finding[] = $derived(this.figures?.findings ?? []);
  ip: Ip | null = $derived(this.selected === null ? null : (this.ips[this.selected] ?? null));

  async open(id: number): Promise<void> {
    try {
      this.#take(await ask(api.GET('/api/projects/{project_id}', { params: { path: { project_id: id } } })));
      this.#firstStep();
      await this.#meetTerrain();
      await this.watchSearch();
    } catch (error) {
      this.tell(error);
      throw error;
    }
  }

  /** The newest state from the server, after a save or because another tab saved. */
  async refresh(): Promise<void> {
    const id = this.project?.id;
    if (id === undefined) return;
    const fresh = await ask(api.GET('/api/projects/{project_id}', { params: { path: { project_id: id } } }));
    this.#take(fresh);
    await this.#meetTerrain();
  }

  /** Look whether another tab has saved, when this one comes back to the front. */
  async look(): Promise<void> {
    const mine = this.project?.revision;
    if (mine === undefined || this.draft || this.saving || this.conflict) return;
    try {
      await this.refresh();
      if (this.project && this.project.revision !== mine) this.say('Shown as saved elsewhere since.');
    } catch (error) {
      this.tell(error);
    }
  }

  #take(project: Project): void {
    this.project = project;
    if (!project.lines.some((l) => l.slot === this.slot)) {
      this.slot = project.lines[0]?.slot ?? null;
      this.selected = null;
      this.figures = null;
    }
    const last = (this.line?.ips.length ?? 0) - 1;
    if (this.selected !== null && this.selected > last) this.selected = null;
  }

  #firstStep(): void {
    const p = this.project;
    this.step = !p?.survey ? 'survey' : !p.centreline ? 'centreline' : 'line';
  }

  async #meetTerrain(): Promise<void> {
    const p = this.project;
    if (!p) return;
    if (!p.survey || !p.centreline) {
      this.terrain = null;
      this.#terrainKey = '';
      this.figures = null;
      this.missing = p.survey
        ? { step: 'centreline', message: 'There is no centreline yet: enter or import its IPs.' }
        : { step: 'survey', message: 'There is no survey yet: import one.' };
      return;
    }
    const key = JSON.stringify([p.id, p.survey, p.centreline, p.section]);
    if (key !== this.#terrainKey) {
      try {
        const met = await terrain(p.id, p.revision);
        this.#terrainKey = key;
        this.terrain = met;
        this.missing = null;
        this.axes.show([met.start_m, met.end_m]);
        this.plumb = Math.min(Math.max(this.plumb, met.start_m), met.end_m);
        this.found = null;
      } catch (error) {
        if (!(error instanceof ApiError)) throw error;
        this.terrain = null;
        this.#terrainKey = '';
        this.figures = null;
        this.missing = { step: error.problem.step ?? 'centreline', message: error.message };
        return;
      }
    }
    this.shown = Object.fromEntries(Object.entries(this.shown).filter(([s]) => p.lines.some((l) => l.slot === s)));
    for (const slot of Object.keys(this.shown)) await this.show(slot);
    this.ask();
    await this.#live.settled();
  }

  /** Ask for the figures of what is on screen. */
  ask(): void {
    const p = this.project;
    if (!p || !this.slot || !this.terrain) return;
    this.#live.want({
      project: p.id,
      slot: this.slot,
      body: { revision: p.revision, ips: null, edit: this.draft, plumb_m: this.plumb },
    });
  }

  choose(slot: string): void {
    if (slot === this.slot) return;
    this.cancel();
    this.slot = slot;
    this.selected = null;
    this.figures = null;
    this.ask();
  }

  select(ip: number | null): void {
    this.selected = ip;
    const at = ip === null ? null : this.ips[ip];
    if (at) {
      this.axes.reveal(at.chainage_m);
      this.setPlumb(at.chainage_m);
    }
  }

  setPlumb(chainage: number): void {
    const t = this.terrain;
    if (!t) return;
    this.plumb = Math.min(Math.max(chainage, t.start_m), t.end_m);
    this.ask();
  }

  /** Draw another line over the present one. */
  async show(slot: string): Promise<void> {
    const p = this.project;
    if (!p) return;
    const body = { revision: p.revision, ips: null, edit: null, plumb_m: null };
    try {
      this.shown = { ...this.shown, [slot]: await preview(p.id, slot, body) };
    } catch (error) {
      this.tell(error);
    }
  }

  hide(slot: string): void {
    this.shown = Object.fromEntries(Object.entries(this.shown).filter(([s]) => s !== slot));
  }

  // Trying an edit, and keeping it or not

  try(edit: Edit): void {
    if (!this.draft) this.before = this.figures?.ledger ?? null;
    this.draft = edit;
    if (edit.what === 'move') this.plumb = edit.chainage_m;
    this.ask();
  }

  /** Put the line back as it was. */
  cancel(): void {
    if (!this.draft) return;
    this.draft = null;
    this.before = null;
    this.#live.drop();
    const held = this.selected === null ? undefined : this.line?.ips[this.selected];
    if (held) this.plumb = held.chainage_m;
    this.ask();
  }

  /** Save what is being tried: one step to undo. */
  async keep(): Promise<void> {
    const edit = this.draft;
    if (edit) await this.apply(edit);
  }

  /** Apply and save one edit; the reason where it is refused. */
  async apply(edit: Edit): Promise<string | null> {
    const slot = this.slot;
    if (!slot) return null;
    const mine = this.figures?.ips ?? null;
    return this.#save(
      (path, base) =>
        ask(
          api.POST('/api/projects/{project_id}/lines/{slot}/edits', {
            params: { path: { ...path, slot } },
            body: { base, edit },
          }),
        ),
      mine,
    );
  }

  /** Run any saving call and follow it; the reason where it is refused. */
  async save(call: (path: { project_id: number }, base: number) => Promise<Schemas['Saved']>): Promise<string | null> {
    return this.#save(call, this.line?.ips ?? null);
  }

  async #save(
    call: (path: { project_id: number }, base: number) => Promise<Schemas['Saved']>,
    mine: Ip[] | null,
  ): Promise<string | null> {
    const p = this.project;
    if (!p) return null;
    this.saving = true;
    try {
      const saved = await call({ project_id: p.id }, p.revision);
      this.draft = null;
      await this.refresh();
      if (saved.slot && saved.slot !== this.slot) this.choose(saved.slot);
      if (typeof saved.selected === 'number') this.select(saved.selected);
      return null;
    } catch (error) {
      if (error instanceof ApiError && error.problem.head) {
        this.conflict = { message: error.message, ips: mine, name: this.line?.name ?? 'line' };
        this.draft = null;
        return error.message;
      }
      this.cancel();
      this.tell(error);
      return error instanceof Error ? error.message : String(error);
    } finally {
      this.before = null;
      this.saving = false;
    }
  }

  async turn(kind: 'undo' | 'redo'): Promise<void> {
    this.cancel();
    const label = this.project?.history[kind];
    if (!label) return;
    const url = kind === 'undo' ? '/api/projects/{project_id}/undo' : '/api/projects/{project_id}/redo';
    const failed = await this.save((path, base) => ask(api.POST(url, { params: { path }, body: { base } })));
    if (!failed) this.say(`${kind === 'undo' ? 'Undone' : 'Redone'}: ${label}`);
  }

  /** After a conflict: take what was saved elsewhere, and keep mine as a line of its own if wanted. */
  async settle(keepMine: boolean): Promise<void> {
    const c = this.conflict;
    this.conflict = null;
    try {
      await this.refresh();
    } catch (error) {
      this.tell(error);
      return;
    }
    const ips = c?.ips;
    if (!keepMine || !ips) return;
    await this.adopt(`${c.name} (mine)`, ips);
  }

  /** A new line, straight from end to end. */
  async newLine(): Promise<string | null> {
    return this.save((path, base) =>
      ask(api.POST('/api/projects/{project_id}/lines', { params: { path }, body: { base, name: 'straight' } })),
    );
  }

  /** A copy of the present line, which is then the present one. */
  async copyLine(): Promise<string | null> {
    const line = this.line;
    if (!line) return null;
    return this.save((path, base) =>
      ask(
        api.POST('/api/projects/{project_id}/lines/{slot}/copy', {
          params: { path: { ...path, slot: line.slot } },
          body: { base, name: `${line.name} copy`.slice(0, 60) },
        }),
      ),
    );
  }

  async adopt(name: string, ips: Ip[]): Promise<string | null> {
    const plain = typedIps(ips);
    return this.save((path, base) =>
      ask(
        api.POST('/api/projects/{project_id}/lines/adopted', {
          params: { path },
          body: { base, name: name.slice(0, 60), ips: plain },
        }),
      ),
    );
  }

  // The search

  async startSearch(): Promise<void> {
    const p = this.project;
    if (!p || !this.slot) return;
    try {
      this.found = null;
      await ask(
        api.POST('/api/projects/{project_id}/searches', {
          params: { path: { project_id: p.id } },
          body: { revision: p.revision, slot: this.slot },
        }),
      );
      await this.watchSearch();
    } catch (error) {
      this.tell(error);
    }
  }

  async stopSearch(): Promise<void> {
    const p = this.project;
    if (!p || !this.search) return;
    const path = { project_id: p.id, search_id: this.search.id };
    await api.POST('/api/projects/{project_id}/searches/{search_id}/stop', { params: { path } });
  }

  /** Follow the newest search until it ends. */
  async watchSearch(): Promise<void> {
    const p = this.project;
    if (!p) return;
    const answer = await api.GET('/api/projects/{project_id}/searches/newest', {
      params: { path: { project_id: p.id } },
    });
    const newest = answer.data?.search;
    if (!newest || this.project?.id !== p.id) return;
    const better = newest.best_cost !== this.search?.best_cost || newest.id !== this.search.id;
    this.search = newest;
    const live = newest.status === 'waiting' || newest.status === 'running';
    if (newest.result && (better || !this.found || !live)) await this.#showFound(newest);
    if (live) setTimeout(() => void this.watchSearch(), 300);
  }

  async #showFound(search: Search): Promise<void> {
    const p = this.project;
    if (!p || !search.result || !this.slot || !this.terrain) return;
    const ips = typedIps(search.result.offered.ips);
    try {
      this.found = await preview(p.id, this.slot, { revision: p.revision, ips, edit: null, plumb_m: null });
    } catch {
      // Found over another centreline: its figures still stand in the panel, only its drawing does not.
      this.found = null;
    }
  }

  say(text: string): void {
    const notice = { text, bad: false };
    this.notice = notice;
    // Good news goes by itself; a refusal stays until it was read.
    setTimeout(() => {
      if (this.notice?.text === text && !this.notice.bad) this.notice = null;
    }, 6000);
  }

  tell(error: unknown): void {
    this.notice = { text: error instanceof Error ? error.message : String(error), bad: true };
  }
}
