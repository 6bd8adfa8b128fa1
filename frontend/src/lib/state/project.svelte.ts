import { api, ApiError, ask, type Edit, type Ip, type Project, type Saved } from '../../api/client';

/** What a change is sent with: where to, what it was made on, its own name, and the project as it is by then. */
export interface Sending {
  path: { project_id: number };
  base: number;
  token: string;
  project: Project;
}

/** One change on its way to the server. It is kept until the server has answered. */
export interface Change {
  /** What a person calls it. */
  what: string;
  send: (to: Sending) => Promise<Saved>;
  /** An edit of a line: tried on top of what is saved until it is saved itself. */
  edit?: { slot: string; edit: Edit };
  /** The line with the change, where it can be kept as a line of its own. */
  line?: { name: string; ips: Ip[] };
}

/** Somebody else saved in between: nothing was overwritten, the refused change is here whole. */
export interface Conflict {
  message: string;
  change: Change;
}

interface Queued {
  change: Change;
  token: string;
  base: number | null;
  done: (refusal: string | null, saved: Saved | null) => void;
}

const AGAIN_MS = 700;

/**
 * The project as it is saved, and the one queue through which changes reach the server.
 *
 * A change takes its base when it is sent, so that two quick ones never conflict with each other. One whose
 * answer does not come is sent again under the same name (the server saves it once), until the server is back.
 */
export class ProjectStore {
  project = $state.raw<Project | null>(null);
  queue = $state.raw<Queued[]>([]);
  /** Whether the server does not answer just now. */
  away = $state(false);
  conflict = $state.raw<Conflict | null>(null);
  #working = false;

  saving = $derived(this.queue.length > 0);

  /** Edits of a line that are on their way to being saved, oldest first. */
  pending(slot: string | null): Edit[] {
    return this.queue.flatMap(({ change: { edit } }) => (edit && edit.slot === slot ? [edit.edit] : []));
  }

  async load(id: number): Promise<void> {
    this.project = await ask(api.GET('/api/projects/{project_id}', { params: { path: { project_id: id } } }));
  }

  /** Look whether somebody else has saved; true if so. Not while a change is on its way. */
  async look(): Promise<boolean> {
    const mine = this.project;
    if (!mine || this.saving || this.conflict) return false;
    const path = { project_id: mine.id };
    const now = await ask(api.GET('/api/projects/{project_id}', { params: { path } }));
    if (this.saving || this.project !== mine || now.revision === mine.revision) return false;
    this.project = now;
    return true;
  }

  /** Look until the project is shown as of a revision, or a later one: a change on its way may bring it too. */
  async reach(revision: number): Promise<void> {
    while (this.project && this.project.revision < revision && !this.conflict) {
      if (!(await this.look())) await new Promise((again) => setTimeout(again, AGAIN_MS));
    }
  }

  /** Queue a change; resolves once it is saved (null) or refused (the reason). */
  save(change: Change, after?: (saved: Saved) => void): Promise<string | null> {
    return new Promise((resolve) => {
      const done = (refusal: string | null, saved: Saved | null) => {
        if (saved) after?.(saved);
        resolve(refusal);
      };
      this.queue = [...this.queue, { change, token: crypto.randomUUID(), base: null, done }];
      void this.#work();
    });
  }

  /** Drop what waits for a server that is away. */
  drop(): void {
    const dropped = this.queue;
    this.queue = [];
    this.away = false;
    for (const q of dropped) q.done('Not saved: it was dropped.', null);
  }

  /** After a conflict: show what was saved elsewhere and, if wanted, do mine once more on top of it. */
  async settle(mine: boolean): Promise<string | null> {
    const c = this.conflict;
    const p = this.project;
    if (!c || !p) return null;
    await this.load(p.id);
    this.conflict = null;
    const result = mine ? this.save(c.change) : null;
    void this.#work();
    return result;
  }

  async #work(): Promise<void> {
    if (this.#working) return;
    this.#working = true;
    while (this.queue.length && !this.conflict) {
      const next = this.queue[0]!;
      const p = this.project!;
      next.base ??= p.revision;
      try {
        const sending = { path: { project_id: p.id }, base: next.base, token: next.token, project: p };
        const saved = await next.change.send(sending);
        this.away = false;
        // In one go: the line with the edit on top and the line with it saved are the same.
        this.queue = this.queue.filter((q) => q !== next);
        this.project = saved.project;
        next.done(null, saved);
      } catch (error) {
        if (this.queue[0] !== next) continue;
        if (error instanceof ApiError && error.away) {
          this.away = true;
          await new Promise((again) => setTimeout(again, AGAIN_MS));
          continue;
        }
        this.away = false;
        this.queue = this.queue.slice(1);
        const why = error instanceof Error ? error.message : String(error);
        if (error instanceof ApiError && error.problem.head) this.conflict = { message: why, change: next.change };
        next.done(why, null);
      }
    }
    this.#working = false;
  }
}
