<script lang="ts">
  import { ready } from '../deck/canvas';
  import { select } from 'd3-selection';
  import { zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3-zoom';
  import type { Attachment } from 'svelte/attachments';
  import { inks } from '../deck/ink';
  import { niceStep, strokeThick } from '../deck/draw';
  import { layer } from '../deck/layer';
  import { firstFrom } from '../deck/trace';
  import { chainage, whole } from '../format';
  import { useWork } from '../state/work.svelte';
  import { theme } from '../theme.svelte';

  let { title = 'Plan' }: { title?: string } = $props();
  const w = useWork();
  let canvas = $state<HTMLCanvasElement>();
  let box = $state({ w: 0, h: 0 });
  let at = $state.raw<ZoomTransform>(zoomIdentity);
  let frame = 0;
  let picture: { key: string; canvas: OffscreenCanvas } | null = null;
  let zoomer: ZoomBehavior<HTMLCanvasElement, unknown> | null = null;

  /** Metres (from the terrain's origin) to pixels so that the whole line fits; north is up. */
  const fit = $derived.by(() => {
    const t = w.still;
    if (!t || box.w === 0) return null;
    const { plan_e: e, plan_n: n } = t.arrays;
    const [e0, e1] = [Math.min(...e!) - 70, Math.max(...e!) + 70];
    const [n0, n1] = [Math.min(...n!) - 70, Math.max(...n!) + 70];
    const k = Math.min(box.w / (e1 - e0), box.h / (n1 - n0));
    return { k, e: (e0 + e1) / 2, n: (n0 + n1) / 2 };
  });
  const x = $derived((e: number) => (fit ? at.applyX(box.w / 2 + (e - fit.e) * fit.k) : 0));
  const y = $derived((n: number) => (fit ? at.applyY(box.h / 2 - (n - fit.n) * fit.k) : 0));

  function place(s: number, offset = 0): [number, number] {
    const { plan_chainage: cs, plan_e: e, plan_n: n, plan_direction: d } = w.still!.arrays;
    const i = Math.min(Math.max(firstFrom(cs!, s), 1), cs!.length - 1);
    const t = (s - cs![i - 1]!) / (cs![i]! - cs![i - 1]! || 1);
    const mix = (v: ArrayLike<number>) => v[i - 1]! * (1 - t) + v[i]! * t;
    const angle = mix(d!);
    return [mix(e!) + offset * Math.sin(angle), mix(n!) - offset * Math.cos(angle)];
  }

  /** Where the sections are, worked out once for each ground. */
  const stations = $derived.by(() => {
    const s = w.still?.arrays.section_chainage;
    if (!s) return null;
    const at = (offset: number) => Array.from(s, (c) => place(c, offset));
    const [on, beside] = [at(0), at(1)];
    return {
      e: Float64Array.from(on, (p) => p[0]),
      n: Float64Array.from(on, (p) => p[1]),
      sin: Float64Array.from(on, (p, i) => beside[i]![0] - p[0]),
      cos: Float64Array.from(on, (p, i) => p[1] - beside[i]![1]),
    };
  });

  function paint(): void {
    frame = 0;
    const t = w.still;
    if (!canvas || box.w === 0) return;
    const c = ready(canvas, box.w, box.h);
    if (!c) return;
    if (!t || !fit) return;
    const ink = inks();
    const where = `${at.x} ${at.y} ${at.k}`;
    layer(c, t.arrays.contours!, where, box.w, box.h, (own) => {
      shade(own, ink.relief);
      contours(own, ink.contour, ink.contourMain);
    });
    footprint(c, ink);
    const { plan_e: e, plan_n: n } = t.arrays;
    c.strokeStyle = ink.line;
    const line = new Path2D();
    for (let i = 0; i < e!.length; i++) line.lineTo(x(e![i]!), y(n![i]!));
    strokeThick(c, line, 2);
    if (box.h > 300) names(c, ink.faint, ink.paper);
    const { plumb } = w.aside.value;
    const [a, b] = [place(plumb, -45), place(plumb, 45)];
    c.strokeStyle = ink.plumb;
    c.lineWidth = 1.5;
    c.beginPath();
    c.moveTo(x(a[0]), y(a[1]));
    c.lineTo(x(b[0]), y(b[1]));
    c.stroke();
    const p = place(plumb);
    c.beginPath();
    c.arc(x(p[0]), y(p[1]), 4, 0, 2 * Math.PI);
    c.fillStyle = ink.plumb;
    c.fill();
    scaleBar(c, ink.faint);
  }

  /** The relief as a picture of one pixel a cell, made once for each ground and theme, and drawn to scale. */
  function shade(c: CanvasRenderingContext2D, colour: string): void {
    const t = w.still!;
    const cells = t.arrays.relief!;
    const { relief_columns: columns, relief_corner_m: corner, relief_cell_m: cell } = t.plan;
    const rows = cells.length / columns;
    if (!rows) return;
    const key = `${theme.name} ${t.key}`;
    if (picture?.key !== key) {
      const canvas = new OffscreenCanvas(columns, rows);
      const own = canvas.getContext('2d')!;
      const image = own.createImageData(columns, rows);
      const [red, green, blue] = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16));
      for (let i = 0; i < cells.length; i++) {
        const at = 4 * ((rows - 1 - Math.floor(i / columns)) * columns + (i % columns));
        // Darker where less light falls; level ground has the paper's own colour, and a bare tint says "ground".
        const dark = Number.isNaN(cells[i]!) ? 0 : 0.1 + 0.9 * Math.max(0.74 - cells[i]!, 0);
        image.data.set([red!, green!, blue!, Math.round(255 * Math.min(dark, 0.85))], at);
      }
      own.putImageData(image, 0, 0);
      picture = { key, canvas };
    }
    const [x0, y0] = [x(corner[0]!), y(corner[1]! + rows * cell)];
    c.drawImage(picture.canvas, x0, y0, x(corner[0]! + columns * cell) - x0, y(corner[1]!) - y0);
  }

  function contours(c: CanvasRenderingContext2D, minor: string, main: string): void {
    const t = w.still!;
    const rows = t.arrays.contours!;
    const step = t.plan.contour_interval_m;
    const paths = [new Path2D(), new Path2D()];
    // Zoomed out only the main contours are drawn, and further out the relief alone: they would be a scribble.
    const scale = fit!.k * at.k;
    if (scale < 0.12) return;
    const all = scale > 0.4;
    for (let i = 0; i < rows.length; i += 5) {
      const isMain = Math.abs(rows[i + 4]! / (5 * step) - Math.round(rows[i + 4]! / (5 * step))) < 1e-4;
      if (!isMain && !all) continue;
      const path = paths[isMain ? 1 : 0]!;
      path.moveTo(x(rows[i]!), y(rows[i + 1]!));
      path.lineTo(x(rows[i + 2]!), y(rows[i + 3]!));
    }
    c.lineWidth = 1;
    c.strokeStyle = minor;
    c.stroke(paths[0]!);
    c.strokeStyle = main;
    c.stroke(paths[1]!);
  }

  /** Chainages along the line and levels on main contours, each clear of the others. */
  function names(c: CanvasRenderingContext2D, colour: string, paper: string): void {
    const t = w.still!;
    c.font = '12px "Overpass Variable", sans-serif';
    c.strokeStyle = paper;
    c.lineWidth = 3;
    c.fillStyle = colour;
    const taken: [number, number][] = [];
    const write = (text: string, px: number, py: number, clear: number): void => {
      if (px < 0 || py < 24 || px > box.w - 40 || py > box.h - 24) return;
      if (taken.some(([a, b]) => Math.abs(a - px) < clear && Math.abs(b - py) < clear / 2)) return;
      taken.push([px, py]);
      c.strokeText(text, px, py);
      c.fillText(text, px, py);
    };
    const step = niceStep(120 / (fit!.k * at.k), 1);
    for (let s = Math.ceil(t.ground.start_m / step) * step; s <= t.ground.end_m; s += step) {
      const [p, q] = [place(s), place(s, 12 / (fit!.k * at.k))];
      c.beginPath();
      c.moveTo(x(p[0]), y(p[1]));
      c.lineTo(x(q[0]), y(q[1]));
      c.save();
      c.strokeStyle = colour;
      c.lineWidth = 1;
      c.stroke();
      c.restore();
      write(chainage(s, 0), x(q[0]) + 3, y(q[1]) + 10, 60);
    }
    const rows = t.arrays.contours!;
    const main = 5 * t.plan.contour_interval_m;
    for (let i = 0; i < rows.length && taken.length < 90; i += 5) {
      const level = rows[i + 4]!;
      if (Math.abs(level / main - Math.round(level / main)) < 1e-4)
        write(level.toFixed(main < 1 ? 1 : 0), x(rows[i]!), y(rows[i + 1]!), 110);
    }
  }

  function footprint(c: CanvasRenderingContext2D, ink: ReturnType<typeof inks>): void {
    const f = w.aside.value.figures;
    const t = w.still!;
    if (!f?.arrays.cut) return;
    const s = t.arrays.section_chainage!;
    const { left, right, cut, fill } = f.arrays;
    const [cuts, fills] = [new Path2D(), new Path2D()];
    // Sections closer than two pixels are drawn together.
    const spacing = ((s[s.length - 1]! - s[0]!) / s.length) * fit!.k * at.k;
    const stride = Math.max(1, Math.floor(2 / spacing));
    const [px, py, where] = [x, y, stations!];
    const corner = (i: number, offset: number): [number, number] => [
      px(where.e[i]! + offset * where.sin[i]!),
      py(where.n[i]! - offset * where.cos[i]!),
    ];
    for (let i = 0; i + stride < s.length; i += stride) {
      const path = cut![i]! >= fill![i]! ? cuts : fills;
      const k = i + stride;
      path.moveTo(...corner(i, left![i]!));
      path.lineTo(...corner(k, left![k]!));
      path.lineTo(...corner(k, right![k]!));
      path.lineTo(...corner(i, right![i]!));
      path.closePath();
    }
    c.fillStyle = ink.cutHatch;
    c.fill(cuts);
    c.fillStyle = ink.fillDots;
    c.fill(fills);
  }

  function scaleBar(c: CanvasRenderingContext2D, colour: string): void {
    const metres = niceStep((box.w / (fit!.k * at.k)) * 0.5, 2);
    const px = metres * fit!.k * at.k;
    c.strokeStyle = colour;
    c.fillStyle = colour;
    c.lineWidth = 1.5;
    c.beginPath();
    c.moveTo(10, box.h - 13);
    c.lineTo(10, box.h - 8);
    c.lineTo(10 + px, box.h - 8);
    c.lineTo(10 + px, box.h - 13);
    c.stroke();
    c.font = '12px "Overpass Variable", sans-serif';
    c.fillText(`${whole(metres)} m`, 16 + px, box.h - 8);
    // North: a plain arrow, up.
    c.beginPath();
    c.moveTo(box.w - 14, box.h - 8);
    c.lineTo(box.w - 14, box.h - 26);
    c.lineTo(box.w - 18, box.h - 19);
    c.stroke();
    c.fillText('N', box.w - 28, box.h - 10);
  }

  $effect(() => {
    void [w.still, w.aside.value, fit, at, box.w, box.h, theme.name];
    if (!frame) frame = requestAnimationFrame(paint);
  });
  $effect(() => () => cancelAnimationFrame(frame));

  const zoomable: Attachment<HTMLCanvasElement> = (node) => {
    zoomer = zoom<HTMLCanvasElement, unknown>()
      .scaleExtent([0.8, 400])
      .on('zoom', (e: { transform: ZoomTransform }) => (at = e.transform));
    const picked = select(node);
    picked.call(zoomer).on('dblclick.zoom', null);
    return () => picked.on('.zoom', null);
  };

  /** A click puts the plumb line at the nearest chainage. */
  function click(e: MouseEvent): void {
    const t = w.still;
    if (!t || !fit) return;
    const frameBox = canvas!.getBoundingClientRect();
    const { plan_chainage: cs, plan_e: pe, plan_n: pn } = t.arrays;
    let best = 0;
    let least = Infinity;
    for (let i = 0; i < cs!.length; i++) {
      const d = Math.hypot(x(pe![i]!) - (e.clientX - frameBox.left), y(pn![i]!) - (e.clientY - frameBox.top));
      if (d < least) [least, best] = [d, i];
    }
    w.selection.setPlumb(cs![best]!);
    w.selection.axes.reveal(cs![best]!);
    w.selection.pinned = true;
  }

  function wholeLine(): void {
    if (zoomer && canvas) select(canvas).call(zoomer.transform, zoomIdentity);
  }
</script>

<section class="plan" aria-label={title} bind:clientWidth={box.w} bind:clientHeight={box.h}>
  <canvas bind:this={canvas} {@attach zoomable} onclick={click} aria-label="Plan with contours and the centreline"
  ></canvas>
  <header>{title}</header>
  {#if at.k !== 1}<button class="btn btn-xs" onclick={wholeLine}>Whole line</button>{/if}
</section>

<style>
  .plan {
    contain: layout paint;
    position: relative;
    overflow: hidden;
    background: var(--color-base-100);
    height: 100%;
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    touch-action: none;
  }
  header {
    position: absolute;
    left: 8px;
    top: 3px;
    font-size: 12px;
    font-weight: 700;
    pointer-events: none;
  }
  button {
    position: absolute;
    right: 6px;
    top: 4px;
  }
</style>
