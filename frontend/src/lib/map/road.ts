import type { Schemas } from '../../api/client';
import { told, figure } from '../units';
import { niceStep, strokeThick } from '../deck/draw';
import { FONT, inks } from '../deck/ink';
import { Labels, type Box } from '../deck/labels';
import { firstFrom } from '../lookup';
import { even } from '../stations.svelte';
import { chainage } from '../format';
import type { Figured, Still } from '../state/figures.svelte';
import type { Written } from '../state/written.svelte';

type Bend = Still['ground']['bends'][number];
import { middles } from './ips';
import type { Plan } from '../state/planned';
import { PaintedLayer, type Sheet } from './painted';

// IPs whose legs are shorter than this are too close for names and large handles. [px]
const PACKED = 24;

/** What is drawn of a road in plan. */
export interface RoadLook {
  still: Still | null;
  figures: Figured | null;
  plumb: number;
  line: boolean;
  works: boolean;
  plan: Plan | null;
  /** Levels that stay written. */
  spots: { easting_m: number; northing_m: number; level_m: number | null }[];
  /** What is written at bends; null: nothing. */
  written: Pick<Written, 'plan'> | null;
}

/** Place of a chainage, `offset` to the right of the centreline. */
export function placeAt(still: Still, s: number, offset = 0): [number, number] {
  const { plan_chainage: cs, plan_e: e, plan_n: n, plan_direction: d } = still.arrays;
  const i = Math.min(Math.max(firstFrom(cs!, s), 1), cs!.length - 1);
  const t = (s - cs![i - 1]!) / (cs![i]! - cs![i - 1]! || 1);
  const mix = (v: ArrayLike<number>) => v[i - 1]! * (1 - t) + v[i]! * t;
  const angle = mix(d!);
  return [mix(e!) + offset * Math.sin(angle), mix(n!) - offset * Math.cos(angle)];
}

interface Stations {
  of: Still;
  e: Float64Array;
  n: Float64Array;
  sin: Float64Array;
  cos: Float64Array;
}

/** Centreline, footprint and plumb line on a canvas of their own: they follow the hand, and tiles lie still. */
export class RoadLayer extends PaintedLayer {
  look: RoadLook = {
    still: null,
    figures: null,
    plumb: 0,
    line: true,
    works: true,
    plan: null,
    spots: [],
    written: null,
  };
  #stations: Stations | null = null;

  protected paint(sheet: Sheet): readonly Box[] {
    const { c, w, h, k, x, y } = sheet;
    const ink = inks();
    const { still, plumb, line, works, plan, spots, written } = this.look;
    // What is named first has its place; all names of the road keep clear of each other.
    const labels = new Labels({ c, left: 0, right: w, h });
    // North, scale and the readings at the lower edge.
    labels.keepClear(0, h - 30, 170, h);
    labels.keepClear(w - 40, h - 34, w, h);
    scaleBar(c, w, h, k, ink.faint, ink.paper);
    if (plan) typed(sheet, plan, labels, written);
    spotLevels(sheet, spots, labels);
    if (!still) return labels.taken;
    if (works) this.#footprint(c, still, k, x, y);
    if (line) utilities(sheet, this.look.figures?.products.utilities ?? [], labels);
    if (!line) return labels.taken;
    const { plan_e: e, plan_n: n, other_e: oe, other_n: on } = still.arrays;
    // Other roads of the project: faint, so that none is taken for the one in hand.
    const others = new Path2D();
    let pen = false;
    for (let i = 0; i < (oe?.length ?? 0); i++) {
      const at = [x(oe![i]!), y(on![i]!)] as const;
      const there = !Number.isNaN(at[0]);
      if (there && pen) others.lineTo(...at);
      else if (there) others.moveTo(...at);
      pen = there;
    }
    c.strokeStyle = ink.other;
    strokeThick(c, others, 2);
    c.strokeStyle = ink.line;
    strokeThick(c, inSight(e!, n!, sheet), 2);
    if (written && !plan) bendNames(sheet, still, labels, written);
    chainages(sheet, still, labels);
    const [a, b] = [placeAt(still, plumb, -45), placeAt(still, plumb, 45)];
    c.strokeStyle = c.fillStyle = ink.plumb;
    c.lineWidth = 1.5;
    c.beginPath();
    c.moveTo(x(a[0]), y(a[1]));
    c.lineTo(x(b[0]), y(b[1]));
    c.stroke();
    const p = placeAt(still, plumb);
    c.beginPath();
    c.arc(x(p[0]), y(p[1]), 4, 0, 2 * Math.PI);
    c.fill();
    return labels.taken;
  }

  /** Where the sections are, worked out once for each road. */
  #at(still: Still): Stations {
    if (this.#stations?.of === still) return this.#stations;
    const s = still.arrays.section_chainage!;
    const [on, beside] = [0, 1].map((offset) => Array.from(s, (c) => placeAt(still, c, offset)));
    this.#stations = {
      of: still,
      e: Float64Array.from(on!, (p) => p[0]),
      n: Float64Array.from(on!, (p) => p[1]),
      sin: Float64Array.from(on!, (p, i) => beside![i]![0] - p[0]),
      cos: Float64Array.from(on!, (p, i) => p[1] - beside![i]![1]),
    };
    return this.#stations;
  }

  #footprint(
    c: CanvasRenderingContext2D,
    still: Still,
    k: number,
    x: (e: number) => number,
    y: (n: number) => number,
  ): void {
    const f = this.look.figures;
    if (!f?.arrays.cut) return;
    const s = still.arrays.section_chainage!;
    const { left, right, cut, fill } = f.arrays;
    if (cut.length !== s.length) return;
    const [cuts, fills] = [new Path2D(), new Path2D()];
    // Sections closer than two pixels are drawn together.
    const stride = Math.max(1, Math.floor(2 / (((s[s.length - 1]! - s[0]!) / s.length) * k)));
    const at = this.#at(still);
    const corner = (i: number, offset: number): [number, number] => [
      x(at.e[i]! + offset * at.sin[i]!),
      y(at.n[i]! - offset * at.cos[i]!),
    ];
    for (let i = 0; i + stride < s.length; i += stride) {
      const path = cut[i]! >= fill![i]! ? cuts : fills;
      const next = i + stride;
      path.moveTo(...corner(i, left![i]!));
      path.lineTo(...corner(next, left![next]!));
      path.lineTo(...corner(next, right![next]!));
      path.lineTo(...corner(i, right![i]!));
      path.closePath();
    }
    const ink = inks();
    c.fillStyle = ink.cutHatch;
    c.fill(cuts);
    c.fillStyle = ink.fillDots;
    c.fill(fills);
  }
}

/** Crosses with the level of the ground, where that was asked to stay. */
function spotLevels({ c, x, y }: Sheet, spots: RoadLook['spots'], labels: Labels): void {
  const ink = inks();
  c.font = FONT;
  for (const { easting_m, northing_m, level_m } of spots) {
    const [px, py] = [Math.round(x(easting_m)) + 0.5, Math.round(y(northing_m)) + 0.5];
    c.strokeStyle = ink.ground;
    c.lineWidth = 1.5;
    c.beginPath();
    c.moveTo(px - 4, py);
    c.lineTo(px + 4, py);
    c.moveTo(px, py - 4);
    c.lineTo(px, py + 4);
    c.stroke();
    labels.keepClear(px - 4, py - 4, px + 4, py + 4);
    const words = level_m === null ? 'no ground' : figure('level', level_m, 2);
    labels.put(words, px + 6, [py, py - 13, py + 13], ink.ground, { from: 'left', halo: ink.paper });
  }
}

/** What is written of a bend: radius, side, length of its arc, its transitions. */
export function bendWords(b: Bend, written: Pick<Written, 'plan'>): string {
  const { radius_m: r, transition_in_m: first, transition_out_m: second } = b;
  const pair = first === second ? told('size', first) : `${figure('size', first)} / ${told('size', second)}`;
  return [
    written.plan('radius') ? `R ${r < 30 ? figure('length', r, 1) : figure('about', r)}` : '',
    written.plan('side') ? (b.deflection > 0 ? 'right' : 'left') : '',
    written.plan('length') ? `arc ${told('length', b.arc_m)}` : '',
    written.plan('transition') && first + second > 0 ? `transitions ${pair}` : '',
  ]
    .filter((part) => part)
    .join(', ');
}

/** Bends are named in their middle, on the outer side. */
function bendNames({ k, x, y }: Sheet, still: Still, labels: Labels, written: Pick<Written, 'plan'>): void {
  const ink = inks();
  for (const b of still.ground.bends) {
    const words = bendWords(b, written);
    if (!words) continue;
    const out = b.deflection > 0 ? -1 : 1;
    const spots = [18, 34, -18].map((off): [number, number] => {
      const [e, n] = placeAt(still, (b.from_chainage_m + b.to_chainage_m) / 2, (out * off) / k);
      return [x(e), y(n)];
    });
    labels.place(words, spots, ink.line, { halo: ink.paper });
  }
}

/** Chainages beside the line. */
function chainages({ c, w, h, k, x, y }: Sheet, still: Still, labels: Labels): void {
  const ink = inks();
  c.font = FONT;
  const step = niceStep(120 / k, 1);
  for (const s of even(still.ground.start_m, still.ground.end_m, step)) {
    const [p, q] = [placeAt(still, s), placeAt(still, s, 12 / k)];
    const [px, py] = [x(q[0]), y(q[1])];
    if (px < -20 || py < -20 || px > w + 20 || py > h + 20) continue;
    c.lineWidth = 1;
    c.strokeStyle = ink.faint;
    c.beginPath();
    c.moveTo(x(p[0]), y(p[1]));
    c.lineTo(px, py);
    c.stroke();
    labels.put(chainage(s, 0), px + 3, [py + 6, py - 8], ink.faint, { from: 'left', halo: ink.paper });
  }
}

function scaleBar(c: CanvasRenderingContext2D, w: number, h: number, k: number, colour: string, paper: string): void {
  const metres = niceStep((Math.min(w, 500) / k) * 0.3, 1.5);
  const px = metres * k;
  const text = told('size', metres);
  const draw = () => {
    c.beginPath();
    c.moveTo(10, h - 13);
    c.lineTo(10, h - 8);
    c.lineTo(10 + px, h - 8);
    c.lineTo(10 + px, h - 13);
    c.stroke();
    // North: a plain arrow, up.
    c.beginPath();
    c.moveTo(w - 14, h - 8);
    c.lineTo(w - 14, h - 26);
    c.lineTo(w - 18, h - 19);
    c.stroke();
  };
  c.font = FONT;
  // Labels of contours, which another layer draws, stay readable beside it, not through it.
  c.fillStyle = paper;
  c.globalAlpha = 0.8;
  c.fillRect(4, h - 22, px + 22 + c.measureText(text).width, 20);
  c.fillRect(w - 34, h - 30, 30, 28);
  c.globalAlpha = 1;
  c.strokeStyle = paper;
  c.lineWidth = 4;
  draw();
  c.lineWidth = 3;
  c.strokeText(text, 16 + px, h - 8);
  c.strokeText('N', w - 28, h - 10);
  c.strokeStyle = c.fillStyle = colour;
  c.lineWidth = 1.5;
  draw();
  c.fillText(text, 16 + px, h - 8);
  c.fillText('N', w - 28, h - 10);
}

/** A path of the legs that touch the picture: dashes of what lies kilometres outside of it are dear too. */
function inSight(es: ArrayLike<number>, ns: ArrayLike<number>, { w, h, x, y }: Sheet): Path2D {
  const path = new Path2D();
  let on = false;
  let [ax, ay] = [x(es[0]!), y(ns[0]!)];
  for (let i = 1; i < es.length; i++) {
    const bx = x(es[i]!);
    const by = y(ns[i]!);
    const out = (ax < 0 && bx < 0) || (ax > w && bx > w) || (ay < 0 && by < 0) || (ay > h && by > h);
    if (!out && !on) path.moveTo(ax, ay);
    if (!out) path.lineTo(bx, by);
    on = !out;
    ax = bx;
    ay = by;
  }
  return path;
}

/** The centreline that is typed: dashed until it is saved, with its IPs and the tangents between them. */
function typed(sheet: Sheet, plan: Plan, labels: Labels, written: RoadLook['written']): void {
  const { c, w, h, x, y } = sheet;
  const ink = inks();
  c.save();
  c.strokeStyle = ink.faint;
  c.lineWidth = 1;
  c.setLineDash([2, 4]);
  const [es, ns] = [plan.ips.map((ip) => ip.easting_m), plan.ips.map((ip) => ip.northing_m)];
  c.stroke(inSight(es, ns, sheet));
  const places = es.map((e, i): [number, number] => [Math.round(x(e)), Math.round(y(ns[i]!))]);
  if (plan.line && !plan.saved) {
    c.strokeStyle = ink.line;
    c.setLineDash([8, 4]);
    strokeThick(c, inSight(plan.line.e, plan.line.n, sheet), 2);
  }
  c.setLineDash([]);
  c.font = FONT;
  const legs = places.reduce(
    (sum, [a, b], i) => sum + (i ? Math.hypot(a - places[i - 1]![0], b - places[i - 1]![1]) : 0),
    0,
  );
  const packed = legs / places.length < PACKED;
  if (!packed && (!plan.saved || plan.current !== null)) midHandles(c, plan, x, y);
  const seen = places.flatMap(([px, py], i) => (px > -9 && px < w + 9 && py > -9 && py < h + 9 ? [i] : []));
  for (const i of seen) handle(c, places[i]!, i === plan.current ? 6 : packed ? 2 : 4, i === plan.current);
  // The one in hand is named first; where they stand too close for words, it alone is.
  const named = seen.filter((i) => i !== plan.current && !packed);
  if (plan.current !== null && places[plan.current]) named.unshift(plan.current);
  for (const i of named) labels.keepClear(places[i]![0] - 4, places[i]![1] - 4, places[i]![0] + 4, places[i]![1] + 4);
  const bends = new Map(plan.bends.map((b) => [b.bend.ip, b.bend]));
  const look = { halo: ink.paper };
  for (const i of named) {
    const [px, py] = places[i]!;
    // Away from the line: it bends to the side of its neighbours.
    const [a, b] = [places[i - 1] ?? places[i]!, places[i + 1] ?? places[i]!];
    const away = (a[1] + b[1]) / 2 >= py ? -1 : 1;
    labels.put(String(i + 1), px, [py + 14 * away, py - 14 * away], ink.faint, look);
    const bend = bends.get(i);
    const words = bend && written ? bendWords(bend, written) : '';
    if (words) labels.put(words, px, [py + 28 * away, py + 42 * away, py - 28 * away], ink.line, look);
  }
  c.restore();
}

function handle(c: CanvasRenderingContext2D, [px, py]: [number, number], half: number, held: boolean): void {
  const ink = inks();
  c.fillStyle = held ? ink.line : ink.paper;
  c.strokeStyle = ink.line;
  c.lineWidth = 1.5;
  c.beginPath();
  c.rect(px - half, py - half, 2 * half, 2 * half);
  c.fill();
  c.stroke();
}

/** Between IPs: dragged, it becomes one. */
function midHandles(c: CanvasRenderingContext2D, plan: Plan, x: Sheet['x'], y: Sheet['y']): void {
  const ink = inks();
  c.strokeStyle = ink.line;
  c.fillStyle = ink.paper;
  c.lineWidth = 1;
  for (const [e, n] of middles(plan)) {
    c.beginPath();
    c.arc(x(e), y(n), 3, 0, 2 * Math.PI);
    c.fill();
    c.stroke();
  }
}

/** Utilities in plan: dashed where buried, dotted overhead, with their names. */
function utilities({ c, x, y }: Sheet, all: Schemas['UtilityFigures'][], labels: Labels): void {
  const ink = inks();
  c.strokeStyle = ink.plumb;
  c.lineWidth = 1.5;
  for (const { name, what, xyz } of all) {
    c.setLineDash(what === 'buried' ? [8, 4] : [2, 4]);
    c.beginPath();
    for (const [e, n] of xyz) c.lineTo(x(e!), y(n!));
    c.stroke();
    const at = xyz[xyz.length >> 1]!;
    labels.place(
      name,
      [10, -10].map((off) => [x(at[0]!), y(at[1]!) + off]),
      ink.plumb,
      { halo: ink.paper },
    );
  }
  c.setLineDash([]);
}
