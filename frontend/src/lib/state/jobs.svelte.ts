import { api, ask, type Search } from '../../api/client';
import type { Notices } from './notices.svelte';

const POLL_MS = 300;
const AGAIN_MS = 1500;

/** Follows the newest search of a project to its end, through whatever happens to the server meanwhile. */
export class JobFollower {
  search = $state.raw<Search | null>(null);
  /** Why a search was not begun. */
  refused = $state<string | null>(null);
  #timer: ReturnType<typeof setTimeout> | undefined;
  #closed = false;

  constructor(
    private readonly notices: Notices,
    private readonly onfound: (search: Search) => void,
  ) {}

  live = $derived(this.search?.status === 'waiting' || this.search?.status === 'running');

  async start(project: number, revision: number, slot: string): Promise<void> {
    this.refused = null;
    try {
      await ask(
        api.POST('/api/projects/{project_id}/searches', {
          params: { path: { project_id: project } },
          body: { revision, slot },
        }),
      );
    } catch (error) {
      this.refused = error instanceof Error ? error.message : String(error);
      return;
    }
    await this.follow(project);
  }

  async stop(project: number): Promise<void> {
    if (!this.search) return;
    const path = { project_id: project, search_id: this.search.id };
    try {
      await ask(api.POST('/api/projects/{project_id}/searches/{search_id}/stop', { params: { path } }));
    } catch (error) {
      this.notices.tell(error);
    }
  }

  async follow(project: number): Promise<void> {
    clearTimeout(this.#timer);
    let wait = POLL_MS;
    try {
      const path = { project_id: project };
      const newest = (await ask(api.GET('/api/projects/{project_id}/searches/newest', { params: { path } }))).search;
      if (!newest || this.#closed) return;
      const was = this.search;
      this.search = newest;
      const better = newest.best_cost !== was?.best_cost || newest.id !== was?.id || newest.status !== was.status;
      if (newest.result && better) this.onfound(newest);
      if (!this.live) return;
    } catch {
      // One look that fails says nothing of the search: look again.
      wait = AGAIN_MS;
    }
    if (!this.#closed) this.#timer = setTimeout(() => void this.follow(project), wait);
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
  }
}
