import { api, ask, type Project, type Saved, type Schemas } from '../../api/client';
import { Latest } from './latest';
import type { Change } from './project.svelte';

export type Typical = Project['sections'][number];
export type Element = Typical['elements'][number];
export type Drawn = Schemas['DrawnSectionOut']['drawn'];
export type Side = Element['side'];
export type Part = 'elements' | 'layers' | 'batters';
export type Offered = Schemas['SectionsOut'];
type Body = Schemas['TypicalSection'];

/** A typical section without the slot it is kept in. */
export function bodyOf(section: Typical): Body {
  const { name, elements, layers, batters } = section;
  return { name, elements, layers, batters };
}

export const otherSide = (side: Side): Side => (side === 'left' ? 'right' : 'left');

/** The same with the rows of one side as those of the other. */
export function copied(section: Typical, from: Side): Typical {
  const both = <R extends { side: Side }>(rows: R[]): R[] => {
    const own = rows.filter((r) => r.side === from);
    const other = own.map((r) => ({ ...r, side: otherSide(from) }));
    return from === 'left' ? [...own, ...other] : [...other, ...own];
  };
  const { elements, layers, batters } = section;
  return { ...section, elements: both(elements), layers: both(layers), batters: both(batters) };
}

/** The same with left and right changed over. */
export function mirrored(section: Typical): Typical {
  const turned = <R extends { side: Side }>(rows: R[]): R[] => {
    const all = rows.map((r) => ({ ...r, side: otherSide(r.side) }));
    return [...all.filter((r) => r.side === 'left'), ...all.filter((r) => r.side === 'right')];
  };
  const { elements, layers, batters } = section;
  return { ...section, elements: turned(elements), layers: turned(layers), batters: turned(batters) };
}

/** Whether both sides are built alike. */
export function alike(section: Typical): boolean {
  const one = (rows: { side: Side }[], side: Side) =>
    JSON.stringify(rows.filter((r) => r.side === side).map((r) => ({ ...r, side: '' })));
  return (['elements', 'layers', 'batters'] as const).every(
    (part) => one(section[part], 'left') === one(section[part], 'right'),
  );
}

/** Typical sections of the project: which is being edited, what is tried on it, and how it would be built. */
export class Sections {
  /** Slot of the one in the editor. */
  slot = $state<string | null>(null);
  /** What is tried in the editor and not saved. */
  trial = $state<Typical | null>(null);
  drawn = $state<Drawn | null>(null);
  /** Why it can't be drawn, which stands where it would be. */
  refused = $state<string | null>(null);
  /** The ground it is drawn over: so much over the line, falling so to the right. [m, m/m] */
  depth = $state(2);
  fall = $state(0);
  /** What is done to one side is done to the other. */
  both = $state(false);
  side = $state<Side>('right');
  /** Sections to begin with, and what is kept for all projects. */
  offered = $state<Offered | null>(null);
  /** Row of the element in hand. */
  row = $state<number | null>(null);

  readonly #ask = new Latest<{ project: Project; section: Typical; depth: number; fall: number }, Drawn>(
    async ({ project, section, depth, fall }) => {
      const found = await ask(
        api.POST('/api/projects/{project_id}/sections/drawn', {
          params: { path: { project_id: project.id } },
          body: { revision: project.revision, section: bodyOf(section), depth_m: depth, fall },
        }),
      );
      return found.drawn as Drawn;
    },
    (drawn) => {
      this.drawn = drawn;
      this.refused = null;
    },
    (error) => (this.refused = error instanceof Error ? error.message : String(error)),
  );

  constructor(
    private readonly project: () => Project | null,
    private readonly save: (change: Change) => Promise<string | null>,
  ) {}

  /** The section in the editor as it is saved. */
  saved = $derived.by(() => this.project()?.sections.find((s) => s.slot === this.slot) ?? null);
  shown = $derived.by(() => this.trial ?? this.saved);

  open(slot: string): void {
    this.slot = slot;
    this.trial = null;
    this.row = null;
    const found = this.saved;
    this.both = found ? alike(found) : false;
  }

  close(): void {
    this.slot = this.trial = this.drawn = null;
  }

  draw(): void {
    const [project, section] = [this.project(), this.shown];
    if (project && section) this.#ask.want({ project, section, depth: this.depth, fall: this.fall });
  }

  /** Save the section with a change made to it as it is by then. */
  async change(what: string, make: (now: Typical) => Typical): Promise<string | null> {
    const slot = this.slot!;
    const why = await this.save({
      what,
      send: ({ path, base, token, project }) => {
        const now = project.sections.find((s) => s.slot === slot);
        if (!now) throw new Error('This typical section is not in the project any more.');
        const body = { base, token, slot, section: bodyOf(make(now)) };
        return ask<Saved>(api.POST('/api/projects/{project_id}/sections', { params: { path }, body }));
      },
    });
    this.trial = null;
    return why;
  }

  /** Put a new section into the project, by a name that is free, and edit it. */
  async add(section: Body): Promise<string | null> {
    const taken = this.project()?.sections.map((s) => s.name) ?? [];
    let name = section.name;
    for (let n = 2; taken.includes(name); n++) name = `${section.name.slice(0, 55)} ${n}`;
    const why = await this.save({
      what: `the section “${name}”`,
      send: ({ path, base, token }) => {
        const body = { base, token, slot: null, section: { ...section, name } };
        return ask<Saved>(api.POST('/api/projects/{project_id}/sections', { params: { path }, body }));
      },
    });
    const made = this.project()?.sections.find((s) => s.name === name);
    if (why === null && made) this.open(made.slot);
    return why;
  }

  /** Ask for sections to begin with, and those that are kept for all projects. */
  async look(): Promise<null> {
    this.offered = await ask(api.GET('/api/sections'));
    return null;
  }

  /** Keep a section, or elements as a piece, for all projects. */
  async keep(what: 'section' | 'piece', section: Body): Promise<null> {
    await ask(
      api.POST('/api/projects/{project_id}/sections/keep', {
        params: { path: { project_id: this.project()!.id } },
        body: { name: section.name, what, section },
      }),
    );
    return this.look();
  }

  async forget(entry: number): Promise<null> {
    await ask(api.DELETE('/api/sections/{entry}', { params: { path: { entry } } }));
    return this.look();
  }

  async remove(slot: string): Promise<string | null> {
    const why = await this.save({
      what: 'deleting the section',
      send: ({ path, base, token }) =>
        ask<Saved>(
          api.POST('/api/projects/{project_id}/sections/remove', { params: { path }, body: { base, token, slot } }),
        ),
    });
    if (why === null) this.slot = this.project()?.works?.section ?? null;
    return why;
  }
}
