import { typedIps, type Project, type Search } from '../../api/client';
import type { Case, Figured } from './figures.svelte';
import type { Notices } from './notices.svelte';

interface Now {
  project: Project | null;
  slot: string | null;
  /** What the search has found, where that is shown. */
  found: Search['result'] | null;
}

/** Lines drawn over the present one: others of the project, by slot, and the one that a search has found. */
export class Overlays {
  shown = $state.raw<Record<string, Figured>>({});
  found = $state.raw<Figured | null>(null);

  constructor(
    private readonly now: () => Now,
    private readonly figures: (of: Case) => Promise<Figured>,
    private readonly notices: Notices,
  ) {}

  async show(slot: string): Promise<void> {
    const { project } = this.now();
    if (!project) return;
    try {
      const of = { project: project.id, revision: project.revision, slot, ips: null, edits: [] };
      const drawn = await this.figures(of);
      this.shown = { ...this.shown, [slot]: drawn };
    } catch (error) {
      this.notices.tell(error);
    }
  }

  hide(slot: string): void {
    this.shown = Object.fromEntries(Object.entries(this.shown).filter(([s]) => s !== slot));
  }

  /** Draw all of them anew, and drop those that are gone. */
  async drawAll(): Promise<void> {
    const lines = this.now().project?.lines ?? [];
    for (const slot of Object.keys(this.shown)) {
      if (lines.some((l) => l.slot === slot)) await this.show(slot);
      else this.hide(slot);
    }
    await this.drawFound();
  }

  /** Draw the line a search has found; only the search's own step shows it. */
  async drawFound(): Promise<void> {
    const { project, slot, found } = this.now();
    if (!project || !found || !slot) return;
    const ips = typedIps(found.offered.ips);
    try {
      this.found = await this.figures({ project: project.id, revision: project.revision, slot, ips, edits: [] });
    } catch {
      // Found over another centreline: its figures still stand in the panel, only its drawing does not.
      this.found = null;
    }
  }
}
