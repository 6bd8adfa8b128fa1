import { api, ask, type Project, type Schemas } from '../../api/client';
import type { Case, Figured } from './figures.svelte';
import type { Change } from './project.svelte';

export type PastState = Schemas['StateOut'];

/** States that are listed at a time. */
const PAGE = 200;

/** Looking back along the history: states with what their line was and cost, and going back to one. */
export class Past {
  open = $state(false);
  /** The oldest first. */
  states = $state.raw<PastState[]>([]);
  /** The state in hand, by its revision. */
  at = $state<number | null>(null);
  /** The present line as it was then. */
  figures = $state.raw<Figured | null>(null);
  /** Why there are none. */
  without = $state('');
  more = $state(false);
  #looked = 0;

  constructor(
    private readonly now: () => { project: Project | null; slot: string | null },
    private readonly ask: (of: Case) => Promise<Figured>,
    private readonly save: (change: Change) => Promise<string | null>,
  ) {}

  state = $derived(this.states.find((s) => s.number === this.at) ?? null);

  /** List the newest states anew; those that were listed before stay. */
  async load(): Promise<void> {
    await this.#list(undefined);
  }

  async earlier(): Promise<void> {
    await this.#list(this.#oldest());
  }

  /** From here on every state is listed; before it only those with names. */
  #oldest(): number {
    let first = this.states.length - 1;
    while (first > 0 && this.states[first - 1]!.number === this.states[first]!.number - 1) first--;
    return this.states[first]?.number ?? 0;
  }

  async #list(before: number | undefined): Promise<void> {
    const { project } = this.now();
    if (!project) return;
    const query = before === undefined ? { count: PAGE } : { before, count: PAGE };
    const found = await ask(
      api.GET('/api/projects/{project_id}/states', { params: { path: { project_id: project.id }, query } }),
    );
    const fresh = Object.fromEntries([...this.states, ...found.states].map((s) => [s.number, s]));
    this.states = Object.values(fresh).sort((a, b) => a.number - b.number);
    this.more = this.#oldest() > 0;
  }

  /** Take a state in hand: the line as it was then is worked out and drawn. */
  async look(number: number | null): Promise<void> {
    const mine = ++this.#looked;
    this.at = number;
    this.figures = null;
    this.without = '';
    const { project, slot } = this.now();
    if (number === null || !project || !slot) return;
    try {
      const found = await this.ask({ project: project.id, revision: number, slot, ips: null, edits: [] });
      if (mine === this.#looked) this.figures = found;
    } catch (error) {
      if (mine === this.#looked) this.without = error instanceof Error ? error.message : String(error);
    }
  }

  /** Step to the state before or behind the one in hand. */
  step(by: number): void {
    const at = this.states.findIndex((s) => s.number === this.at);
    const to = at < 0 ? this.states.length - 1 : Math.min(Math.max(at + by, 0), this.states.length - 1);
    void this.look(this.states[to]?.number ?? null);
  }

  close(): void {
    this.open = false;
    void this.look(null);
  }

  async name(name: string): Promise<void> {
    const { project } = this.now();
    if (!project || this.at === null) return;
    const path = { project_id: project.id };
    const body = { revision: this.at, name };
    const { states } = await ask(api.POST('/api/projects/{project_id}/states', { params: { path }, body }));
    this.states = this.states.map((s) => states.find((named) => named.number === s.number) ?? s);
  }

  /** Make the present line, or all of the project, as it was in the state in hand. */
  async back(all: boolean): Promise<string | null> {
    const [revision, { slot }] = [this.at, this.now()];
    if (revision === null) return null;
    return this.save({
      what: 'going back',
      send: ({ path, base, token }) =>
        ask(
          api.POST('/api/projects/{project_id}/back', {
            params: { path },
            body: { base, token, revision, slot: all ? null : slot },
          }),
        ),
    });
  }
}
