import { api, ask, type Edit, type Schemas } from '../../api/client';
import type { Case, Figured } from './figures.svelte';

export type WayOn = Schemas['WayFigures'];

/** What could not be on the present line, and ways on from there; each can be looked at as a ghost before it is taken. */
export class Refused {
  now = $state.raw<{ of: Case; reason: string; ways: WayOn[] } | null>(null);
  ghost = $state.raw<Figured | null>(null);
  #asked = 0;
  #looked: WayOn | null = null;

  /** `figures` works out a line that is drawn over the present one. */
  constructor(private readonly figures: (of: Case) => Promise<Figured>) {}

  /** Ask what stands in the way of an edit, and what could be instead. */
  async ask(of: Case, edit: Edit): Promise<void> {
    const mine = ++this.#asked;
    const path = { project_id: of.project, slot: of.slot ?? '' };
    try {
      const body = { revision: of.revision, edits: of.edits, edit };
      const found = await ask(api.POST('/api/projects/{project_id}/lines/{slot}/ways', { params: { path }, body }));
      if (mine === this.#asked && found.reason !== null)
        this.now = { of, reason: found.reason, ways: found.ways as WayOn[] };
    } catch {
      // The reason stands beside what was tried; without an answer there is nothing to offer.
    }
  }

  drop(): void {
    this.#asked++;
    this.now = null;
    this.#looked = null;
    this.ghost = null;
  }

  /** Draw what a way would make of the line, while it is looked at; null ends that. */
  async look(way: WayOn | null): Promise<void> {
    this.#looked = way;
    if (!way || !this.now) {
      this.ghost = null;
      return;
    }
    const ips = (way.edit as unknown as { ips: Schemas['IpIn'][] }).ips;
    try {
      const drawn = await this.figures({ ...this.now.of, edits: [], ips });
      if (this.#looked === way) this.ghost = drawn;
    } catch {
      // Only its drawing is missing.
    }
  }
}
