import { api, ask, type Schemas } from '../../api/client';
import { Follower } from './jobs.svelte';
import type { Notices } from './notices.svelte';

export type Suspect = Schemas['SuspectOut'];

/** The newest hunt for suspects among a project's points, and which of them are in hand. */
export class Hunt extends Follower<Schemas['SuspectsOut']> {
  /** Suspects in hand, by their place in the list. */
  picked = $state.raw<readonly number[]>([]);

  constructor(notices: Notices) {
    super(
      notices,
      async (project_id) =>
        (await ask(api.GET('/api/projects/{project_id}/land/suspects/newest', { params: { path: { project_id } } })))
          .job,
      (now, before) => {
        if (now.id !== before?.id) this.picked = [];
      },
    );
  }

  all: Suspect[] = $derived(this.job?.result?.suspects ?? []);

  async start(project_id: number, revision: number): Promise<void> {
    await this.begin(project_id, () =>
      ask(
        api.POST('/api/projects/{project_id}/land/suspects', { params: { path: { project_id } }, body: { revision } }),
      ),
    );
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
}
