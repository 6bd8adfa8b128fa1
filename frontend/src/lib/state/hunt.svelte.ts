import { api, ask, type Schemas } from '../../api/client';
import type { Notices } from './notices.svelte';

export type Suspect = Schemas['SuspectOut'];

const POLL_MS = 300;
const AGAIN_MS = 1500;

/** The newest hunt for suspects among a project's points, followed to its end, and which of them are in hand. */
export class Hunt {
  job = $state.raw<Schemas['SuspectsOut'] | null>(null);
  /** Suspects in hand, by their place in the list. */
  picked = $state.raw<readonly number[]>([]);
  #timer: ReturnType<typeof setTimeout> | undefined;
  #closed = false;

  constructor(private readonly notices: Notices) {}

  live = $derived(this.job?.status === 'waiting' || this.job?.status === 'running');
  all: Suspect[] = $derived(this.job?.result?.suspects ?? []);

  async start(project: number, revision: number): Promise<void> {
    try {
      const path = { project_id: project };
      await ask(api.POST('/api/projects/{project_id}/land/suspects', { params: { path }, body: { revision } }));
    } catch (error) {
      this.notices.tell(error);
      return;
    }
    await this.follow(project);
  }

  async follow(project: number): Promise<void> {
    clearTimeout(this.#timer);
    let wait = POLL_MS;
    try {
      const path = { project_id: project };
      const newest = (await ask(api.GET('/api/projects/{project_id}/land/suspects/newest', { params: { path } }))).job;
      if (!newest || this.#closed) return;
      if (newest.id !== this.job?.id) this.picked = [];
      this.job = newest;
      if (!this.live) return;
    } catch {
      // One look that fails says nothing of the hunt: look again.
      wait = AGAIN_MS;
    }
    if (!this.#closed) this.#timer = setTimeout(() => void this.follow(project), wait);
  }

  /** Take one in hand, or add it to those that are (or take it from them). */
  pick(index: number, more: boolean): void {
    if (!more) this.picked = [index];
    else if (this.picked.includes(index)) this.picked = this.picked.filter((i) => i !== index);
    else this.picked = [...this.picked, index];
  }

  pickAll(indices: number[]): void {
    this.picked = indices;
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
  }
}
