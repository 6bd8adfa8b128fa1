import { api, ask, figures, type Schemas } from '../../api/client';
import { KeptArrays } from '../../api/binary';
import { boxesOf, decidedBy, TileStore, type Ground } from './tiles';
import { Latest } from './latest';
import type { Notices } from './notices.svelte';

export type LandFigures = Schemas['LandFigures'];
export type Spot = Schemas['SpotOut'] & { easting_m: number; northing_m: number };

/** Another ground: as of a revision, or one survey of it alone. */
export interface Against {
  revision: number;
  slot: string | null;
}

export interface Compared {
  against: Against;
  ground: Ground;
  /** Null while it is worked out. */
  of: Schemas['Difference'] | null;
}

// So long the map waits for pieces of a changed ground before it asks for each by itself.
const AHEAD_MS = 400;

const after = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** The surveyed ground: facts about it, its tiles, and what it is under the pointer. It needs no centreline. */
export class Land {
  facts = $state.raw<{ ground: Ground; of: LandFigures } | null>(null);
  spot = $state.raw<Spot | null>(null);
  codes = $state.raw<{ key: string; of: Schemas['CodeFigures'][] } | null>(null);
  /** Points that a change by hand is about, by place and level. */
  decided = $derived(decidedBy(this.facts?.of.decided ?? []));
  areas = $state.raw<{ key: string; of: Schemas['Surface'] } | null>(null);
  /** Another ground that this one is held against, and what lies between them. */
  compared = $state.raw<Compared | null>(null);
  readonly tiles = new TileStore();
  #survey = '';
  #comparing = 0;
  #changing = 0;
  #asked = '';
  #facts: Latest<Ground, LandFigures | null>;
  #areas: Latest<Ground, Schemas['Surface'] | null>;
  #spot: Latest<{ ground: Ground; e: number; n: number }, Spot>;

  constructor(notices: Notices) {
    this.#facts = new Latest(
      async ({ project, revision }) => {
        const question = {
          revision,
          slot: null,
          road: null,
          ips: null,
          edits: [],
          want: ['land' as const],
          at_m: null,
        };
        return (await figures(project, question, new KeptArrays())).products.land ?? null;
      },
      (of, ground) => {
        if (!of) return;
        // Of the same points, only what differs in changes by hand differs on the map.
        const same = this.facts !== null && this.#survey === this.#asked;
        const boxes = same ? boxesOf(this.facts!.of.changes, of.changes) : null;
        const survey = this.#asked;
        const mine = ++this.#changing;
        // The map goes over to the new ground in one go, once the pieces are there that differ.
        // Pieces that break off on their way are asked for when they are drawn.
        const ahead = boxes ? this.tiles.ahead(ground, boxes).catch(() => undefined) : Promise.resolve();
        const soon = Promise.race([ahead, after(AHEAD_MS)]);
        void soon.then(() => mine === this.#changing && this.#take(ground, of, survey, boxes));
      },
      (error) => notices.tell(error),
    );
    this.#areas = new Latest(
      async ({ project, revision }) => {
        const question = {
          revision,
          slot: null,
          road: null,
          ips: null,
          edits: [],
          want: ['areas' as const],
          at_m: null,
        };
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

  #take(ground: Ground, of: LandFigures, survey: string, boxes: number[][] | null): void {
    this.tiles.change(ground, boxes);
    this.#survey = survey;
    this.facts = { ground, of };
    // What was read out under the pointer was of the ground before.
    if (this.spot) this.lookAt(this.spot.easting_m, this.spot.northing_m);
    const other = this.compared;
    if (other && other.ground.key !== ground.key) void this.compare(other.against).catch(() => this.compare(null));
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
      road: null,
      ips: null,
      edits: [],
      want: ['codes' as const],
      at_m: null,
    };
    const found = (await figures(ground.project, question, new KeptArrays())).products.codes;
    if (found) this.codes = { key: survey, of: found };
  }

  /** Hold the ground against another one; null: no more. */
  async compare(against: Against | null): Promise<void> {
    const ground = this.facts?.ground;
    const mine = ++this.#comparing;
    if (!against || !ground) {
      this.compared = null;
      return;
    }
    this.compared = { against, ground, of: null };
    const query = { revision: ground.revision, against_revision: against.revision, against_slot: against.slot };
    const path = { project_id: ground.project };
    try {
      const of = (await ask(api.GET('/api/projects/{project_id}/land/difference', { params: { path, query } })))
        .difference;
      if (mine === this.#comparing) this.compared = { against, ground, of };
    } catch (error) {
      if (mine === this.#comparing) this.compared = null;
      throw error;
    }
  }

  lookAt(e: number, n: number): void {
    const ground = this.facts?.ground;
    if (ground) this.#spot.want({ ground, e, n });
  }
}
