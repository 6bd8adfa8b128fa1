import { api, ask, type Schemas } from '../../api/client';
import type { Ground } from './tiles';

export type SpotMark = Schemas['SpotMark'];

/** Levels of the ground at places that stay written on the map: asked for again where the ground is another one. */
export class Spots {
  #levels = $state.raw<Record<string, number | null>>({});
  #key = '';

  /** The level at a mark; null where there is no ground, or it is on its way. */
  level({ easting_m, northing_m }: SpotMark): number | null {
    return this.#levels[`${easting_m} ${northing_m}`] ?? null;
  }

  /** Ask for those that are not known of this ground. */
  async ask(ground: Ground, marks: readonly SpotMark[]): Promise<void> {
    if (ground.key !== this.#key) [this.#levels, this.#key] = [{}, ground.key];
    const path = { project_id: ground.project };
    for (const { easting_m, northing_m } of marks) {
      const at = `${easting_m} ${northing_m}`;
      if (at in this.#levels) continue;
      this.#levels = { ...this.#levels, [at]: null };
      const query = { revision: ground.revision, easting_m, northing_m };
      try {
        const found = await ask(api.GET('/api/projects/{project_id}/land/spot', { params: { path, query } }));
        if (ground.key === this.#key) this.#levels = { ...this.#levels, [at]: found.level_m };
      } catch {
        // Asked for again with the next ground or mark.
        if (ground.key === this.#key)
          this.#levels = Object.fromEntries(Object.entries(this.#levels).filter(([k]) => k !== at));
        return;
      }
    }
  }
}
