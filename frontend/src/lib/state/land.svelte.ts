import { api, ask, figures, type Schemas } from '../../api/client';
import { KeptArrays } from '../../api/binary';
import { boxesOf, decidedBy, TileStore, type Ground } from '../map/tiles';
import { Latest } from './latest';
import type { Notices } from './notices.svelte';

export type LandFigures = Schemas['LandFigures'];
export type Spot = Schemas['SpotOut'] & { easting_m: number; northing_m: number };

/** The surveyed ground: facts about it, its tiles, and what it is under the pointer. It needs no centreline. */
export class Land {
  facts = $state.raw<{ ground: Ground; of: LandFigures } | null>(null);
  spot = $state.raw<Spot | null>(null);
  codes = $state.raw<{ key: string; of: Schemas['CodeFigures'][] } | null>(null);
  /** Points that a change by hand is about, by place and level. */
  decided = $derived(decidedBy(this.facts?.of.decided ?? []));
  areas = $state.raw<{ key: string; of: Schemas['Surface'] } | null>(null);
  readonly tiles = new TileStore();
  #survey = '';
  #asked = '';
  #facts: Latest<Ground, LandFigures | null>;
  #areas: Latest<Ground, Schemas['Surface'] | null>;
  #spot: Latest<{ ground: Ground; e: number; n: number }, Spot>;

  constructor(notices: Notices) {
    this.#facts = new Latest(
      async ({ project, revision }) => {
        const question = { revision, slot: null, ips: null, edits: [], want: ['land' as const], at_m: null };
        return (await figures(project, question, new KeptArrays())).products.land ?? null;
      },
      (of, ground) => {
        if (!of) return;
        // Of the same points, only what differs in changes by hand differs on the map.
        const same = this.facts !== null && this.#survey === this.#asked;
        this.tiles.change(ground, same ? boxesOf(this.facts!.of.changes, of.changes) : null);
        this.#survey = this.#asked;
        this.facts = { ground, of };
      },
      (error) => notices.tell(error),
    );
    this.#areas = new Latest(
      async ({ project, revision }) => {
        const question = { revision, slot: null, ips: null, edits: [], want: ['areas' as const], at_m: null };
        return (await figures(project, question, new KeptArrays())).products.areas ?? null;
      },
      (of, ground) => (this.areas = of && { key: ground.key, of }),
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

  /** Ask for the facts of a ground; `survey` names the points it is made of, whatever was changed by hand. */
  ask(ground: Ground, survey: string): void {
    this.#asked = survey;
    this.#facts.want(ground);
  }

  /** Areas take a look at every triangle: asked for where they are shown, and after all else. */
  askAreas(): void {
    const ground = this.facts?.ground;
    if (ground && this.areas?.key !== ground.key) this.#areas.want(ground);
  }

  /** The survey's codes and how many points have each; `survey` names it. */
  async askCodes(survey: string): Promise<void> {
    const ground = this.facts?.ground;
    if (!ground || this.codes?.key === survey) return;
    const question = {
      revision: ground.revision,
      slot: null,
      ips: null,
      edits: [],
      want: ['codes' as const],
      at_m: null,
    };
    const found = (await figures(ground.project, question, new KeptArrays())).products.codes;
    if (found) this.codes = { key: survey, of: found };
  }

  lookAt(e: number, n: number): void {
    const ground = this.facts?.ground;
    if (ground) this.#spot.want({ ground, e, n });
  }
}
