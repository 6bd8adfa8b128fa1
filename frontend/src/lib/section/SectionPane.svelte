<script lang="ts">
  import { ready } from '../deck/canvas';
  import { label } from '../deck/draw';
  import { inks, lineInk } from '../deck/ink';
  import { paintDrawing, type Drawing } from '../scene';
  import type { ShownSection } from '../state/walk.svelte';
  import { theme } from '../theme.svelte';
  import { figure, told } from '../units';

  // One section as large as its room, heights exaggerated as wished; what is under the pointer is read out.
  interface Props {
    section: ShownSection | null;
    title: string;
    behind?: boolean;
    times?: number;
    /** Ground to each side; 0: as far as the works go. [m] */
    beside_m?: number;
    /** What other grade lines would build here: their drawings, each in its colour. */
    others?: { drawing: Drawing; colour: number; name: string }[];
    /** With findings: what is said of it. */
    bad?: string;
    /** Small among many: nothing is written in it. */
    small?: boolean;
    /** A place of the ground was picked: its offset. */
    onpick?: (offset: number) => void;
  }
  let {
    section,
    title,
    behind = false,
    times = 1,
    beside_m = 0,
    others = [],
    bad = '',
    small = false,
    onpick,
  }: Props = $props();
  let canvas = $state<HTMLCanvasElement>();
  let box = $state({ w: 0, h: 0 });
  let at = $state<{ x: number; y: number } | null>(null);

  const view = $derived.by(() => {
    const s = section;
    if (!s?.drawing.strokes.length || !box.w) return null;
    const [x0, lo, x1, hi] = s.box;
    const half = beside_m || Math.max(-x0, x1) * 1.02;
    const [top, foot] = small ? [16, 4] : [26, 18];
    const high = box.h - top - foot;
    const k = Math.min((box.w - 8) / (2 * half), high / Math.max((hi - lo) * times, 1));
    const middle = (lo + hi) / 2;
    return {
      half,
      x: (o: number) => box.w / 2 + o * k,
      y: (z: number) => top + high / 2 - (z - middle) * k * times,
      o: (x: number) => (x - box.w / 2) / k,
      z: (y: number) => middle - (y - top - high / 2) / (k * times),
      k,
    };
  });

  let frame = 0;
  function paint(): void {
    frame = 0;
    const c = ready(canvas, box.w, box.h);
    if (!c || !view || !section) return;
    const ink = inks();
    const { drawing } = section;
    // Where the road is small, what is written on it would hide it.
    const words = small ? [] : drawing.words.filter((t) => view.k > 14 || (t.role !== 'road' && t.role !== 'faint'));
    for (const other of others) {
      c.strokeStyle = lineInk(other.colour);
      c.lineWidth = 1;
      c.setLineDash([5, 3]);
      for (const s of other.drawing.strokes) {
        if (s.role !== 'works' && s.role !== 'road') continue;
        c.beginPath();
        for (const [o, z] of s.points) c.lineTo(view.x(o), view.y(z));
        c.stroke();
      }
      c.setLineDash([]);
    }
    paintDrawing(
      c,
      { ...drawing, words, marks: small ? drawing.marks.filter((m) => m.role === 'bad') : drawing.marks },
      view.x,
      view.y,
      box,
    );
    c.strokeStyle = ink.faint;
    c.lineWidth = 1;
    c.setLineDash([4, 3]);
    c.beginPath();
    c.moveTo(view.x(0), small ? 16 : 24);
    c.lineTo(view.x(0), box.h - (small ? 4 : 18));
    c.stroke();
    c.setLineDash([]);
    if (small) return;
    c.textAlign = 'center';
    label(c, `${told('about', view.half)} to each side, heights ×${times}`, box.w / 2, box.h - 5, ink.faint);
    c.textAlign = 'left';
    if (at) {
      c.strokeStyle = ink.plumb;
      c.beginPath();
      c.moveTo(at.x + 0.5, 24);
      c.lineTo(at.x + 0.5, box.h - 18);
      c.stroke();
    }
  }
  $effect(() => {
    void [section, view, others, at, theme.name, small];
    if (!frame) frame = requestAnimationFrame(paint);
  });
  $effect(() => () => cancelAnimationFrame(frame));

  /** Level of the strokes of a role at an offset. */
  function levelAt(role: string, o: number): number | null {
    for (const s of section?.drawing.strokes ?? []) {
      if (s.role !== role) continue;
      for (let i = 1; i < s.points.length; i++) {
        const [[x0, z0], [x1, z1]] = [s.points[i - 1]!, s.points[i]!];
        if (Math.min(x0, x1) <= o && o <= Math.max(x0, x1) && x0 !== x1) return z0 + ((z1 - z0) * (o - x0)) / (x1 - x0);
      }
    }
    return null;
  }

  const reads = $derived.by(() => {
    if (!at || !view) return '';
    const o = view.o(at.x);
    const [ground, road, works] = [levelAt('ground', o), levelAt('road', o), levelAt('works', o)];
    const built = road ?? works;
    const side = `${told('length', Math.abs(o))} ${o < 0 ? 'left' : 'right'}`;
    return [
      side,
      ground === null ? '' : `ground ${told('level', ground, 2)}`,
      built === null ? '' : `${road === null ? 'works' : 'road'} ${told('level', built, 2)}`,
      ground !== null && built !== null
        ? `${told('length', Math.abs(built - ground))} ${built > ground ? 'above' : 'below'} ground`
        : '',
    ]
      .filter(Boolean)
      .join(', ');
  });
  const text = $derived.by(() => {
    const s = section;
    if (!s) return '';
    if (!s.drawing.strokes.length) return 'no ground here';
    if (!s.on_road) return 'nothing is built here';
    return small
      ? `${figure('section_area', s.cut_m2, 1)} / ${figure('section_area', s.fill_m2, 1)}`
      : `cut ${told('section_area', s.cut_m2)}, fill ${told('section_area', s.fill_m2)}`;
  });
</script>

<!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events -->
<div
  class="pane"
  class:behind
  class:small
  class:bad={bad !== ''}
  bind:clientWidth={box.w}
  bind:clientHeight={box.h}
  onpointermove={(e) => {
    if (small) return;
    const frame = e.currentTarget.getBoundingClientRect();
    at = { x: e.clientX - frame.left, y: e.clientY - frame.top };
  }}
  onpointerleave={() => (at = null)}
  onclick={() => {
    if (at && view) onpick?.(view.o(at.x));
  }}
>
  <canvas bind:this={canvas}></canvas>
  <header>
    <b
      >{#if bad}<span class="failure mark" title={bad}>✕</span>{/if}{title}</b
    ><output class="num">{reads || text}</output>
  </header>
</div>

<style>
  .mark {
    margin-right: 4px;
  }
  .pane {
    contain: layout paint;
    position: relative;
    min-width: 0;
    min-height: 0;
    height: 100%;
    background: var(--color-base-100);
  }
  .bad {
    box-shadow: inset 0 2px 0 var(--ink-failure);
  }
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  .behind canvas,
  .behind output {
    opacity: 0.45;
    transition: opacity 0s 200ms;
  }
  header {
    position: absolute;
    inset: 3px 8px auto;
    display: flex;
    gap: 8px;
    justify-content: space-between;
    font-size: 12px;
    white-space: nowrap;
  }
  .small header {
    inset: 1px 4px auto;
  }
  b,
  output {
    overflow: hidden;
    text-overflow: ellipsis;
  }
</style>
