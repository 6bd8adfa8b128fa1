import { api, ask, typedIps, type Project, type Saved } from '../../api/client';
import type { Notices } from './notices.svelte';
import type { Change } from './project.svelte';

type Saving = Promise<string | null>;
interface OfLine {
  path: { project_id: number; slot: string };
  base: number;
  token: string;
}

/**
 * Makes grade lines of the road that is looked at, and changes what the present one is called and counts as; each
 * answers with the reason where it is refused.
 */
export class Making {
  constructor(
    private readonly save: (change: Change) => Saving,
    private readonly at: () => { road: string; line: Project['lines'][number] | null },
    private readonly notices: Notices,
  ) {}

  /** A first line near the ground, with greatest depths of cut and fill where these are wished. */
  async along(cut_m: number | null, fill_m: number | null, drains: 'roll' | 'even' = 'roll', round = false): Saving {
    let said: string[] = [];
    const { road } = this.at();
    const why = await this.save({
      what: 'the new line',
      send: async ({ path, base, token }) => {
        const body = { base, token, name: 'first', road, cut_m, fill_m, drains, round };
        const made: Saved = await ask(api.POST('/api/projects/{project_id}/lines/fitted', { params: { path }, body }));
        said = made.said ?? [];
        return made;
      },
    });
    if (!why && said.length) this.notices.say(said.slice(0, 4).join(' '), true);
    return why;
  }

  straight(): Saving {
    const { road } = this.at();
    return this.save({
      what: 'the new line',
      send: ({ path, base, token }) =>
        ask(
          api.POST('/api/projects/{project_id}/lines', {
            params: { path },
            body: { base, token, name: 'straight', road },
          }),
        ),
    });
  }

  /** A copy of the present line, which is then the present one. */
  async copy(): Saving {
    const { line } = this.at();
    if (!line) return null;
    return this.save({
      what: 'the copy',
      send: ({ path, base, token }) =>
        ask(
          api.POST('/api/projects/{project_id}/lines/{slot}/copy', {
            params: { path: { ...path, slot: line.slot } },
            body: { base, token, name: `${line.name} copy`.slice(0, 60) },
          }),
        ),
    });
  }

  /** Take a line in that came from elsewhere: a search, or what was typed before somebody else saved. */
  adopt(name: string, ips: Parameters<typeof typedIps>[0]): Saving {
    const [plain, { road }] = [typedIps(ips), this.at()];
    return this.save({
      what: 'the adopted line',
      send: ({ path, base, token }) =>
        ask(
          api.POST('/api/projects/{project_id}/lines/adopted', {
            params: { path },
            body: { base, token, name: name.slice(0, 60), ips: plain, road },
          }),
        ),
    });
  }

  rename(name: string): Saving {
    return this.#of('the name of the line', ({ path, base, token }) =>
      ask(
        api.POST('/api/projects/{project_id}/lines/{slot}/rename', { params: { path }, body: { base, token, name } }),
      ),
    );
  }

  setStatus(status: Project['lines'][number]['status']): Saving {
    return this.#of('the status of the line', ({ path, base, token }) =>
      ask(
        api.POST('/api/projects/{project_id}/lines/{slot}/status', { params: { path }, body: { base, token, status } }),
      ),
    );
  }

  setColour(colour: number): Saving {
    return this.#of('the colour of the line', ({ path, base, token }) =>
      ask(
        api.POST('/api/projects/{project_id}/lines/{slot}/colour', { params: { path }, body: { base, token, colour } }),
      ),
    );
  }

  /** Delete the present line. */
  async remove(): Saving {
    const name = this.at().line?.name;
    const why = await this.#of(`deleting “${name}”`, ({ path, base, token }) =>
      ask(api.POST('/api/projects/{project_id}/lines/{slot}/delete', { params: { path }, body: { base, token } })),
    );
    if (!why) this.notices.say(`“${name}” is deleted. Undo brings it back.`);
    return why;
  }

  /** A change of the line that is present now. */
  async #of(what: string, send: (to: OfLine) => Promise<Saved>): Saving {
    const slot = this.at().line?.slot;
    if (!slot) return null;
    return this.save({ what, send: ({ path, base, token }) => send({ path: { ...path, slot }, base, token }) });
  }
}
