import { api, ask, type Search } from '../../api/client';
import type { Notices } from './notices.svelte';

const POLL_MS = 300;
const AGAIN_MS = 1500;

type Job = Pick<Search, 'id' | 'status' | 'stage' | 'share' | 'ahead' | 'message' | 'revision' | 'seconds'>;

/** Follows the newest job of one kind of a project to its end, through whatever happens to the server meanwhile. */
export class Follower<J extends Job> {
  job = $state.raw<J | null>(null);
  /** Why a job was not begun. */
  refused = $state<string | null>(null);
  #timer: ReturnType<typeof setTimeout> | undefined;
  #closed = false;

  constructor(
    protected readonly notices: Notices,
    /** Asks for the newest. */
    private readonly newest: (project: number) => Promise<J | null>,
    /** Told of each look, with what was known before. */
    private readonly onlook: (now: J, before: J | null) => void = () => {},
  ) {}

  live = $derived(this.job?.status === 'waiting' || this.job?.status === 'running');

  /** Begin one, and follow it; false, with the reason in `refused`, where it was not begun. */
  async begin(project: number, start: () => Promise<unknown>): Promise<boolean> {
    this.refused = null;
    try {
      await start();
    } catch (error) {
      this.refused = error instanceof Error ? error.message : String(error);
      return false;
    }
    await this.follow(project);
    return true;
  }

  async stop(project: number): Promise<void> {
    if (!this.job) return;
    const path = { project_id: project, job_id: this.job.id };
    try {
      await ask(api.POST('/api/projects/{project_id}/jobs/{job_id}/stop', { params: { path } }));
    } catch (error) {
      this.notices.tell(error);
    }
  }

  async follow(project: number): Promise<void> {
    clearTimeout(this.#timer);
    let wait = POLL_MS;
    try {
      const now = await this.newest(project);
      if (!now || this.#closed) return;
      const before = this.job;
      this.job = now;
      this.onlook(now, before);
      if (!this.live) return;
    } catch {
      // One look that fails says nothing of the job: look again.
      wait = AGAIN_MS;
    }
    if (!this.#closed) this.#timer = setTimeout(() => void this.follow(project), wait);
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
  }
}

/** The search for the cheapest line; `onfound` is told when it has a better one. */
export class Searching extends Follower<Search> {
  constructor(notices: Notices, onfound: () => void) {
    super(
      notices,
      async (project_id) =>
        (await ask(api.GET('/api/projects/{project_id}/searches/newest', { params: { path: { project_id } } }))).search,
      (now, was) => {
        const better = now.best_cost !== was?.best_cost || now.id !== was?.id || now.status !== was.status;
        if (now.result && better) onfound();
      },
    );
  }

  async start(project_id: number, revision: number, slot: string): Promise<void> {
    await this.begin(project_id, () =>
      ask(
        api.POST('/api/projects/{project_id}/searches', { params: { path: { project_id } }, body: { revision, slot } }),
      ),
    );
  }
}
