<script lang="ts">
  import { fixed, percent, signedWhole, whole } from '../format';
  import type { Workspace } from '../state/workspace.svelte';
  import { drawAxis, drawBends, drawMass, drawStrip } from './draw';
  import LongSection from './LongSection.svelte';
  import { valueAt } from './trace';
  import Track from './Track.svelte';
  import { drawUse } from './use';
  import { hiddenTracks } from './tracks.svelte';

  let { w }: { w: Workspace } = $props();
  const REACH_M = 40;
  const hidden = hiddenTracks();
  let holding: { x: number; moved: boolean } | null = null;

  function at(e: PointerEvent | WheelEvent): number {
    const frame = (e.currentTarget as Element).getBoundingClientRect();
    return w.axes.toChainage(e.clientX - frame.left);
  }

  function move(e: PointerEvent): void {
    if (holding) {
      const metres = (holding.x - e.clientX) / w.axes.scale;
      if (Math.abs(holding.x - e.clientX) > 3 || holding.moved) {
        w.axes.pan(metres);
        holding = { x: e.clientX, moved: true };
      }
      return;
    }
    if (!w.pinned && !w.draft && e.buttons === 0) w.setPlumb(at(e));
  }

  function down(e: PointerEvent): void {
    if (e.button !== 0 || (e.target as Element).closest('button, .handle')) return;
    holding = { x: e.clientX, moved: false };
  }

  function up(e: PointerEvent): void {
    if (holding && !holding.moved) {
      // A click pins the plumb line where it is, or lets it go.
      w.pinned = !w.pinned;
      w.setPlumb(at(e));
      if (w.selected !== null) w.selected = null;
    }
    holding = null;
  }

  function wheel(e: WheelEvent): void {
    e.preventDefault();
    if (e.shiftKey || Math.abs(e.deltaX) > Math.abs(e.deltaY)) {
      w.axes.pan((e.deltaX || e.deltaY) / w.axes.scale);
    } else w.axes.zoom(Math.exp(-e.deltaY / 500), at(e));
  }

  const section = $derived(w.terrain?.arrays.section_chainage);
  const stripText = $derived.by(() => {
    const f = w.figures;
    if (!f || !section) return '';
    const left = valueAt(section, f.arrays.left!, w.plumb);
    const right = valueAt(section, f.arrays.right!, w.plumb);
    return `footprint ${fixed(-left, 1)} m left, ${fixed(right, 1)} m right`;
  });
  const massText = $derived.by(() => {
    const f = w.figures;
    return f && section ? `${signedWhole(valueAt(section, f.arrays.mass!, w.plumb))} m³` : '';
  });
  const bendText = $derived.by(() => {
    const b = w.terrain?.bends.find((x) => x.from_chainage_m <= w.plumb && w.plumb <= x.to_chainage_m);
    return b ? `R ${whole(b.radius_m)} m to the ${b.deflection > 0 ? 'right' : 'left'}` : 'straight';
  });
  const useText = $derived.by(() => {
    const here = (w.figures?.uses ?? []).filter((u) => u.from_chainage_m <= w.plumb && w.plumb <= u.to_chainage_m);
    const most = here.reduce((a, u) => Math.max(a, u.use), 0);
    return here.length ? `up to ${most > 9.99 ? 'over 999 %' : percent(most, 0)} of a limit used here` : '';
  });
</script>

<div
  class="deck"
  role="application"
  aria-label="Tracks along the chainage"
  bind:clientWidth={w.axes.width}
  onpointermove={move}
  onpointerdown={down}
  onpointerup={up}
  onwheel={wheel}
>
  <!-- One line through all tracks; moving it draws none of them again. -->
  <div class="plumb" class:pinned={w.pinned} style:translate={`${Math.round(w.axes.x(w.plumb))}px 0`}></div>
  {#if !hidden.has('strip')}
    <Track
      {w}
      name="strip"
      title={`Strip, ${REACH_M} m to each side; contours ${w.terrain?.contour_interval_m ?? 1} m`}
      height={104}
      readout={stripText}
      ontoggle={() => hidden.toggle('strip')}
      watch={[w.terrain, w.figures]}
      draw={(v) => {
        if (w.terrain) drawStrip(v, w.terrain, w.figures, REACH_M);
      }}
    />
  {/if}
  {#if !hidden.has('bends')}
    <Track
      {w}
      name="bends"
      title="Bends"
      height={38}
      readout={bendText}
      ontoggle={() => hidden.toggle('bends')}
      watch={[w.terrain]}
      draw={(v) => {
        if (w.terrain) drawBends(v, w.terrain);
      }}
    />
  {/if}
  <LongSection {w} />
  {#if !hidden.has('use')}
    <Track
      {w}
      name="use"
      title="Use of limits (notched: over 90 %)"
      height={96}
      readout={useText}
      ontoggle={() => hidden.toggle('use')}
      watch={[w.figures]}
      draw={(v) => {
        if (w.figures) drawUse(v, w.figures);
      }}
    />
  {/if}
  {#if !hidden.has('mass')}
    <Track
      {w}
      name="mass"
      title="Mass haul, m³"
      height={88}
      readout={massText}
      ontoggle={() => hidden.toggle('mass')}
      watch={[w.terrain, w.figures]}
      draw={(v) => {
        if (w.terrain && w.figures) drawMass(v, w.terrain, w.figures);
      }}
    />
  {/if}
  <Track {w} name="axis" title="" height={28} watch={[w.plumb]} draw={(v) => drawAxis(v, w.plumb)} />
</div>

<style>
  .plumb {
    position: absolute;
    z-index: 1;
    left: 0;
    top: 0;
    bottom: 26px;
    border-left: 1px dashed var(--ink-plumb);
    pointer-events: none;
  }
  .pinned {
    border-left-style: solid;
  }
  .deck {
    position: relative;
    display: flex;
    flex-direction: column;
    flex: 1 1 0;
    min-height: 0;
    background: var(--color-base-100);
    user-select: none;
    touch-action: none;
  }
</style>
