import { api, ask, figures, type Schemas } from '../../api/client';
import { KeptArrays } from '../../api/binary';
import { TileStore, type Ground } from '../map/tiles';
import { Latest } from './latest';
import type { Notices } from './notices.svelte';

export type LandFigures = Schemas['LandFigures'];
export type Spot = Schemas['SpotOut'] & { easting_m: number; northing_m: number };

/** The surveyed ground: facts about it, its tiles, and what it is under the pointer. It needs no centreline. */
export class Land {
  facts = $state.raw<{ ground: Ground; of: LandFigures } | null>(null);
  spot = $state.raw<Spot | null>(null);
  readonly tiles = new TileStore();
  #facts: Latest<Ground, LandFigures | null>;
  #spot: Latest<{ ground: Ground; e: number; n: number }, Spot>;

  constructor(notices: Notices) {
    this.#facts = new Latest(
      async ({ project, revision }) => {
        const question = { revision, slot: null, ips: null, edits: [], want: ['land' as const], at_m: null };
        return (await figures(project, question, new KeptArrays())).products.land ?? null;
      },
      (of, ground) => {
        if (!of) return;
        this.tiles.change(ground, null);
        this.facts = { ground, of };
      },
      (error) => notices.tell(error),
    );
    this.#spot = new Latest(
      async ({ ground: { project, revision }, e, n }) => {
        const query = { revision, easting_m: e, northing_m: n };
        const path = { project_id: project };
        const found = await ask(api.GET('/api/projects/{project_id}/land/spot', { params: { path, query } }));
        return { ...found, easting_m: e, northing_m: n };
      },
      (found) => (this.spot = found),
      // A read-out under the pointer is asked for again with its next move.
      () => (this.spot = null),
    );
  }

  ask(ground: Ground): void {
    this.#facts.want(ground);
  }

  lookAt(e: number, n: number): void {
    const ground = this.facts?.ground;
    if (ground) this.#spot.want({ ground, e, n });
  }
}
