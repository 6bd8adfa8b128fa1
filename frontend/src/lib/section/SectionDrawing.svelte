<script lang="ts">
  import { ready } from '../deck/canvas';
  import { paintDrawing } from '../scene';
  import { useWork } from '../state/work.svelte';
  import { copied, type Drawn, type Element } from '../state/sections.svelte';
  import { theme } from '../theme.svelte';
  import { steepness, told } from '../units';
  import { inks } from '../deck/ink';
  import { label } from '../deck/draw';
  import { pulled } from './shape';

  // The typical section as it would be built: a click takes an element in hand, its corners are pulled.
  const w = useWork();
  const s = w.sections;
  let canvas = $state<HTMLCanvasElement>();
  let box = $state({ w: 0, h: 0 });
  /** The road alone, or all of the works. */
  let whole = $state(false);
  type Hold = {
    row: number;
    corner: number;
    corners: [number, number][];
    from: [number, number];
    upright: boolean | null;
  };
  let hold = $state<Hold | null>(null);

  const drawn: Drawn | null = $derived(s.drawn);
  const view = $derived.by(() => {
    if (!drawn || !box.w) return null;
    // While a hand pulls, the paper stays.
    const [x0, lo, x1, hi] = held ?? (whole ? drawn.box : drawn.road_box);
    const half = Math.max(-x0, x1, 1) * (whole ? 1.02 : 1.3);
    const k = Math.min(box.w / (2 * half), (box.h - 70) / Math.max(hi - lo, 0.5));
    const middle = (lo + hi) / 2;
    return {
      k,
      x: (o: number) => box.w / 2 + o * k,
      y: (z: number) => box.h / 2 + 4 - (z - middle) * k,
      o: (x: number) => (x - box.w / 2) / k,
      z: (y: number) => middle - (y - box.h / 2 - 4) / k,
    };
  });
  let held = $state<[number, number, number, number] | null>(null);

  $effect(() => {
    void theme.name;
    const c = ready(canvas, box.w, box.h);
    if (!c || !view || !drawn) return;
    paintDrawing(c, { ...drawn.drawing, words: drawn.drawing.words.filter(apart) }, view.x, view.y, box);
    const ink = inks();
    c.strokeStyle = ink.faint;
    c.lineWidth = 1;
    c.setLineDash([4, 3]);
    c.beginPath();
    c.moveTo(view.x(0), 8);
    c.lineTo(view.x(0), box.h - 20);
    c.stroke();
    c.setLineDash([]);
    c.textAlign = 'center';
    label(c, 'centreline; heights ×1', box.w / 2, box.h - 6, ink.faint);
    c.textAlign = 'left';
  });

  const element = (row: number): Element | undefined => s.shown?.elements[row];
  /** Where the fields of an element in hand are written, nothing else is. [px] */
  function apart(word: Drawn['drawing']['words'][number]): boolean {
    const own = explained ? inHand?.own : null;
    if (!own || !view) return true;
    const xs = own.corners.map((c) => view.x(c[0]!));
    const x = view.x(word.at[0]);
    return x < Math.min(...xs) - 24 || x > Math.max(...xs) + 24;
  }
  /** Fields are written on elements that are drawn this large. [px/m] */
  const EXPLAINED = 30;
  const explained = $derived((view?.k ?? 0) > EXPLAINED);
  const line = (corners: readonly (readonly number[])[]) =>
    corners.map(([o, z]) => `${view!.x(o!)},${view!.y(z!)}`).join(' ');
  const points = (e: Drawn['elements'][number]) => e.corners.slice(1).map((c, i) => ({ at: c, corner: i + 1 }));

  function take(row: number): void {
    s.row = row;
    const of = element(row);
    if (of) s.side = of.side;
  }

  function down(e: PointerEvent, row: number, corner: number): void {
    if (e.button !== 0 || !drawn) return;
    take(row);
    const own = drawn.elements.find((d) => d.row === row)!;
    hold = {
      ...{ row, corner, upright: null, from: [e.clientX, e.clientY] },
      corners: own.corners.map(([o, z]) => [o!, z!] as [number, number]),
    };
    held = [...(whole ? drawn.box : drawn.road_box)] as typeof held;
    (e.currentTarget as Element_).setPointerCapture(e.pointerId);
    e.stopPropagation();
  }
  type Element_ = SVGElement & { setPointerCapture(id: number): void };

  function move(e: PointerEvent): void {
    if (!hold || !view || !s.shown) return;
    const [dx, dy] = [e.clientX - hold.from[0], e.clientY - hold.from[1]];
    // The first few pixels say whether a width is meant or a height.
    if (hold.upright === null) {
      if (Math.hypot(dx, dy) < 4) return;
      hold.upright = Math.abs(dy) > Math.abs(dx);
    }
    const start = hold.corners[hold.corner]!;
    const at = [start[0] + dx / view.k, start[1] - dy / view.k] as const;
    const base = s.saved!;
    const now = pulled(base.elements[hold.row]!, hold.corners, hold.corner, at, hold.upright);
    s.trial = put(base, hold.row, now);
    s.draw();
  }

  function put(section: NonNullable<typeof s.shown>, row: number, now: Element) {
    const elements = section.elements.map((e, i) => (i === row ? now : e));
    const next = { ...section, elements };
    return s.both ? copied(next, now.side) : next;
  }

  async function up(): Promise<void> {
    const was = hold;
    hold = null;
    if (!was || !s.trial) {
      held = null;
      return;
    }
    const now = s.trial.elements.find((e) => {
      const before = s.saved!.elements[was.row]!;
      return e.side === before.side && e.name === before.name;
    })!;
    const why = await s.change(`“${now.name}”`, (section) => {
      const row = section.elements.findIndex((e) => e.side === now.side && e.name === now.name);
      return put(section, row, now);
    });
    held = null;
    s.refused = why;
    s.draw();
  }

  /** Esc puts back what was pulled. */
  function key(e: KeyboardEvent): void {
    if (e.key !== 'Escape' || !hold) return;
    hold = held = null;
    s.trial = null;
    s.draw();
    e.stopPropagation();
  }

  interface Meaning {
    text: string;
    x: number;
    y0: number;
    y1: number;
    upright: boolean;
    side: number;
  }
  /** What the fields of an element mean, where they are: its fall, slopes, depth or height. */
  function meanings(e: Element, corners: readonly (readonly number[])[]): Meaning[] {
    const v = view!;
    const side = e.side === 'left' ? -1 : 1;
    const at = corners.map(([o, z]) => [v.x(o!), v.y(z!)] as const);
    const along = (i: number, text: string, up = -12): Meaning => {
      const [a, b] = [at[i]!, at[i + 1]!];
      const y = (a[1] + b[1]) / 2 + up;
      return { text, x: (a[0] + b[0]) / 2, y0: y, y1: y, upright: false, side };
    };
    const tall = (from: number, to: number, x: number, text: string): Meaning => ({
      ...{ text, x, y0: at[from]![1], y1: at[to]![1], upright: true, side },
    });
    if (e.kind === 'drain') {
      const out = [
        along(0, `front ${steepness(e.front_h_over_v)}`, -24),
        along(1, `bottom ${told('size', e.width_m)}`, 18),
        tall(0, 1, at[2]![0] + side * 8, `depth ${told('size', e.depth_m)}`),
      ];
      return e.back_h_over_v === null ? out : [...out, along(2, `back ${steepness(e.back_h_over_v)}`)];
    }
    if (e.kind === 'kerb' || e.kind === 'wall') {
      const [from, to] = (e.drop_m ?? 0) < 0 ? [0, 1] : [1, 2];
      return [tall(from, to, at[to]![0] + side * 10, `drop ${told('size', e.drop_m ?? 0)}`)];
    }
    const text = e.drop_m === null ? `fall ${told('fall', e.fall)}` : `drop ${told('size', e.drop_m)}`;
    return [along(at.length - 2, text, -26)];
  }

  const inHand = $derived.by(() => {
    const e = s.row === null ? undefined : element(s.row);
    const own = drawn?.elements.find((d) => d.row === s.row);
    if (!e || !view) return null;
    return { e, own };
  });
</script>

<svelte:window onkeydowncapture={key} />
<div
  class="drawing"
  role="group"
  aria-label="Drawing of the section"
  bind:clientWidth={box.w}
  bind:clientHeight={box.h}
>
  <canvas bind:this={canvas}></canvas>
  {#if view && drawn}
    <svg width={box.w} height={box.h} role="presentation" onpointermove={move} onpointerup={() => void up()}>
      {#each drawn.elements as d (d.row)}
        <polyline
          class="element"
          class:on={d.row === s.row}
          points={line(d.corners)}
          role="button"
          tabindex="-1"
          aria-label={`${element(d.row)?.name ?? ''}, ${element(d.row)?.side ?? ''}`}
          onpointerdown={() => take(d.row)}
        />
      {/each}
      {#if inHand?.own && explained}
        {@const [inner, ...rest] = inHand.own.corners}
        {@const outer = rest[rest.length - 1]!}
        <!-- What its fields mean, where they are. -->
        {@const base = Math.min(box.h - 34, Math.max(...inHand.own.corners.map((c) => view.y(c[1]!))) + 30)}
        <g class="meaning">
          <path
            d="M{view.x(inner![0]!)},{base - 6}v12M{view.x(outer[0]!)},{base - 6}v12M{view.x(
              inner![0]!,
            )},{base}H{view.x(outer[0]!)}"
          />
          <text x={(view.x(inner![0]!) + view.x(outer[0]!)) / 2} y={base + 14}
            >{told('length', Math.abs(outer[0]! - inner![0]!))}
            {inHand.e.kind === 'drain' ? 'in all' : 'wide'}</text
          >
          {#each meanings(inHand.e, inHand.own.corners) as m (m.text)}
            {#if m.upright}
              <path d="M{m.x - 4},{m.y0}h8M{m.x - 4},{m.y1}h8M{m.x},{m.y0}V{m.y1}" />
            {/if}
            <text x={m.x + (m.upright ? m.side * 34 : 0)} y={(m.y0 + m.y1) / 2 + 4}>{m.text}</text>
          {/each}
        </g>
      {/if}
      {#each drawn.elements as d (d.row)}
        {#each points(d) as { at, corner } (corner)}
          <circle
            class="corner"
            class:on={d.row === s.row}
            cx={view.x(at[0]!)}
            cy={view.y(at[1]!)}
            r={d.row === s.row ? 6 : 4.5}
            role="slider"
            tabindex="-1"
            aria-label={`Corner ${corner} of ${element(d.row)?.name ?? ''}, ${element(d.row)?.side ?? ''}`}
            aria-valuenow={at[0]}
            onpointerdown={(e) => down(e, d.row, corner)}
          >
            <title>Pull it sideways for the width, up or down for the fall</title>
          </circle>
        {/each}
      {/each}
    </svg>
  {/if}
  <div class="tools">
    <button class="btn btn-xs" aria-pressed={whole} onclick={() => (whole = !whole)}
      >{whole ? 'The road alone' : 'All of the works'}</button
    >
  </div>
  {#if s.refused}<p class="failure-box" role="alert">{s.refused}</p>{/if}
</div>

<style>
  .drawing {
    position: relative;
    min-height: 0;
    height: 100%;
    overflow: hidden;
    border-bottom: 1px solid var(--color-base-300);
  }
  canvas,
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  svg {
    touch-action: none;
  }
  .element {
    fill: none;
    stroke: transparent;
    stroke-width: 14;
    cursor: pointer;
  }
  .element.on {
    stroke: color-mix(in srgb, var(--color-primary) 32%, transparent);
  }
  .corner {
    fill: var(--ink-paper);
    stroke: var(--color-primary);
    stroke-width: 2;
    cursor: move;
  }
  .corner:focus,
  .element:focus {
    outline: none;
  }
  .corner.on {
    fill: var(--color-primary);
  }
  .meaning path {
    stroke: var(--color-primary);
    fill: none;
  }
  .meaning text {
    font-size: 12px;
    text-anchor: middle;
    fill: var(--color-primary);
    paint-order: stroke;
    stroke: var(--ink-paper);
    stroke-width: 3px;
  }
  .tools {
    position: absolute;
    right: 8px;
    top: 6px;
  }
  .failure-box {
    position: absolute;
    left: 8px;
    bottom: 6px;
    max-width: 70%;
  }
</style>
