import { api, ask, type Schemas } from '../../api/client';
import { KeptArrays, type Arrays } from '../../api/binary';
import type { Land, Spot } from './land.svelte';
import type { Change } from './project.svelte';

export type Row = Schemas['GroundEditIn'];
type RingKind = Schemas['OutlineCorner']['what'];
/** Tools that draw a ring, and what it bounds. */
export const RING_TOOLS = { boundary: 'outer', hole: 'hole', island: 'island' } satisfies Record<string, RingKind>;
type RingTool = keyof typeof RING_TOOLS;
export const isRingTool = (tool: Tool): tool is RingTool => tool in RING_TOOLS;
export type Tool =
  'look' | 'draw' | 'measure' | 'section' | 'spot' | 'point' | 'edge' | 'breakline' | 'triangle' | RingTool;
export type TriangleAt = Schemas['TriangleAt'];

/** What can be done on the map; `changes` what: only the step of that does it. */
export const TOOLS: { id: Tool; name: string; says: string; changes?: 'ground' | 'centreline' }[] = [
  { id: 'look', name: 'Look', says: 'Drag the map; the head tells the level under the pointer.' },
  {
    id: 'draw',
    name: 'Draw',
    says: 'Click the IPs of the centreline in order. Backspace takes the last back; a double click or Enter ends it.',
    changes: 'centreline',
  },
  { id: 'measure', name: 'Measure', says: 'Click points in order: length, area and grade between them.' },
  {
    id: 'spot',
    name: 'Level',
    says: 'Click to have the level of the ground written there for good; click it again to take it away.',
  },
  { id: 'section', name: 'Section', says: 'Click points in order; the ground between them is drawn below.' },
  {
    id: 'point',
    name: 'Point',
    says: 'Click a surveyed point to take it out, keep it or give it another level.',
    changes: 'ground',
  },
  { id: 'edge', name: 'Edge', says: 'Click beside an edge to swap it for the other diagonal.', changes: 'ground' },
  {
    id: 'breakline',
    name: 'Breakline',
    says: 'Click its points in order; Enter ends it, Escape drops it.',
    changes: 'ground',
  },
  { id: 'triangle', name: 'Triangle', says: 'Click triangles that are no ground.', changes: 'ground' },
  {
    id: 'boundary',
    name: 'Boundary',
    says: 'Click its corners in order; outside of it there is no ground. Enter closes it.',
    changes: 'ground',
  },
  {
    id: 'hole',
    name: 'Hole',
    says: 'Click its corners in order; within it there is no ground. Enter closes it.',
    changes: 'ground',
  },
  {
    id: 'island',
    name: 'Island',
    says: 'Click its corners in order; within it there is ground in spite of a hole around. Enter closes it.',
    changes: 'ground',
  },
];

type Outline = Schemas['Outline'];
export type Place = [easting: number, northing: number, level: number];

/** What the hand does to the ground: the tool, what was picked with it, and saving it as a change that can be taken back. */
export class Hand {
  tool = $state<Tool>('look');
  point = $state.raw<Spot | null>(null);
  triangle = $state.raw<TriangleAt | null>(null);
  line = $state.raw<Place[]>([]);
  /** Why what was tried last can't be done. */
  problem = $state<string | null>(null);
  cut = $state.raw<{ corners: number[]; arrays: Arrays } | null>(null);

  constructor(
    private readonly land: Land,
    private readonly save: (change: Change) => Promise<string | null>,
  ) {}

  take(tool: Tool): void {
    this.drop();
    this.tool = tool;
  }

  drop(): void {
    this.problem = null;
    this.point = this.triangle = this.cut = null;
    this.line = [];
  }

  /**
   * A click on the map.
   *
   * @param reach how near a surveyed point must be to be meant [m]
   */
  async click(e: number, n: number, reach: number): Promise<void> {
    this.problem = null;
    try {
      if (this.tool === 'point') {
        const spot = await this.#spot(e, n);
        this.point = spot?.point_row !== null && spot && spot.point_away_m! <= 3 * reach ? spot : null;
        if (!this.point) this.problem = 'No surveyed point is near: click closer to one.';
      } else if (this.tool === 'edge' || this.tool === 'triangle') {
        this.triangle = await this.#triangle(e, n);
      } else if (this.tool !== 'look') {
        const spot = await this.#spot(e, n);
        const anywhere = this.tool !== 'breakline' && this.tool !== 'section';
        if (anywhere && (!spot || spot.level_m === null)) {
          this.line = [...this.line, [e, n, NaN]];
          return;
        }
        if (!spot || spot.level_m === null) {
          this.problem = 'There is no ground at that place.';
          return;
        }
        const near = spot.point_row !== null && spot.point_away_m! <= reach ? await this.#corner(e, n) : null;
        this.line = [...this.line, near ?? [e, n, spot.level_m]];
        if (this.tool === 'section' && this.line.length > 1) await this.#draw();
      }
    } catch (error) {
      this.problem = error instanceof Error ? error.message : String(error);
    }
  }

  /** Make a change of the ground; the reason where it is refused. */
  change(rows: Row[], note: string, what: string): Promise<string | null> {
    return this.save({
      what,
      send: ({ path, base, token }) =>
        ask(
          api.POST('/api/projects/{project_id}/land/changes', { params: { path }, body: { base, token, note, rows } }),
        ),
    });
  }

  takeBack(slot: string): Promise<string | null> {
    return this.save({
      what: 'what was taken back',
      send: ({ path, base, token }) =>
        ask(
          api.POST('/api/projects/{project_id}/land/changes/{slot}/back', {
            params: { path: { ...path, slot } },
            body: { base, token },
          }),
        ),
    });
  }

  async swap(): Promise<void> {
    const other = this.triangle?.other;
    if (!other) return;
    this.problem = await this.change(rowsOf('edge', other as Place[]), '', 'the swapped edge');
    if (!this.problem) this.triangle = null;
  }

  async dropTriangle(): Promise<void> {
    const corners = this.triangle?.corners as Place[] | undefined;
    if (!corners) return;
    const middle = [0, 1, 2].map((i) => corners.reduce((sum, c) => sum + c[i]!, 0) / 3) as Place;
    this.problem = await this.change(rowsOf('drop', [middle]), '', 'the triangle taken away');
    if (!this.problem) this.triangle = null;
  }

  /** Close what is picked as a boundary of the ground, or as a hole in it. */
  async #endRing(what: RingKind): Promise<void> {
    const corners = this.line.map(([easting_m, northing_m]) => ({ easting_m, northing_m }));
    this.problem = await this.outline(`the ${what === 'outer' ? 'boundary' : what}`, (now) => {
      const ring = Math.max(0, ...now.rows.map((r) => r.ring)) + 1;
      return { ...now, rows: [...now.rows, ...corners.map((at) => ({ ring, what, ...at }))] };
    });
    if (!this.problem) this.line = [];
  }

  /** Change how the ground is bounded; the reason where it is refused. */
  outline(what: string, change: (now: Outline) => Outline): Promise<string | null> {
    return this.save({
      what,
      send: ({ path, base, token, project }) => {
        const outline = change(project.outline ?? { longest_edge_m: null, rows: [] });
        return ask(api.PUT('/api/projects/{project_id}/outline', { params: { path }, body: { base, token, outline } }));
      },
    });
  }

  async endLine(note: string): Promise<void> {
    if (isRingTool(this.tool)) {
      if (this.line.length > 2) await this.#endRing(RING_TOOLS[this.tool]);
      return;
    }
    if (this.tool !== 'breakline' || this.line.length < 2) return;
    this.problem = await this.change(rowsOf('breakline', this.line), note, 'the breakline');
    if (!this.problem) this.line = [];
  }

  async #spot(e: number, n: number): Promise<Spot | null> {
    const g = this.land.facts?.ground;
    if (!g) return null;
    const query = { revision: g.revision, easting_m: e, northing_m: n };
    const path = { project_id: g.project };
    const found = await ask(api.GET('/api/projects/{project_id}/land/spot', { params: { path, query } }));
    return { ...found, easting_m: e, northing_m: n };
  }

  async #triangle(e: number, n: number): Promise<TriangleAt | null> {
    const g = this.land.facts?.ground;
    if (!g) return null;
    const query = { revision: g.revision, easting_m: e, northing_m: n };
    const path = { project_id: g.project };
    return (await ask(api.GET('/api/projects/{project_id}/land/triangle', { params: { path, query } }))).triangle;
  }

  /** The corner of the triangle there that is nearest. */
  async #corner(e: number, n: number): Promise<Place | null> {
    const corners = (await this.#triangle(e, n))?.corners as Place[] | undefined;
    return (
      corners?.reduce((a, b) => (Math.hypot(a[0] - e, a[1] - n) <= Math.hypot(b[0] - e, b[1] - n) ? a : b)) ?? null
    );
  }

  async #draw(): Promise<void> {
    const g = this.land.facts?.ground;
    if (!g) return;
    const response = await fetch(`/api/projects/${g.project}/land/cut`, {
      method: 'POST',
      headers: { Accept: 'application/octet-stream', 'Content-Type': 'application/json' },
      body: JSON.stringify({ revision: g.revision, line: this.line.map(([e, n]) => [e, n]) }),
    });
    if (!response.ok) {
      this.problem = ((await response.json()) as { message: string }).message;
      return;
    }
    this.cut = new KeptArrays().unpack<{ corners: number[] }>(await response.arrayBuffer());
  }
}

export function rowsOf(what: Row['what'], places: Place[], instead: number | null = null): Row[] {
  return places.map(([easting_m, northing_m, level_m]) => ({
    what,
    easting_m,
    northing_m,
    level_m,
    new_level_m: instead,
  }));
}

/** Corners of an outline by ring. */
export function ringsOf(rows: Outline['rows']): Outline['rows'][] {
  const numbers = rows.map((r) => r.ring).filter((ring, i, all) => all.indexOf(ring) === i);
  return numbers.map((ring) => rows.filter((r) => r.ring === ring));
}
