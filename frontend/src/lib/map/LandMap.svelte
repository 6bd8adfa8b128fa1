<script lang="ts">
  import { niceStep } from '../deck/draw';
  import { worded, unitLength } from '../system.svelte';
  import { figure, told } from '../units';
  import 'ol/ol.css';
  import type OlMap from 'ol/Map';
  import { untrack } from 'svelte';
  import type { Attachment } from 'svelte/attachments';
  import { fixed } from '../format';
  import { isRingTool, TOOLS } from '../state/hand.svelte';
  import { useWork } from '../state/work.svelte';
  import { theme } from '../theme.svelte';
  import { BackdropLayer } from './backdrop';
  import CutView from './CutView.svelte';
  import { DifferenceLayer } from './difference';
  import { GroundLayers } from './ground';
  import MapLayers from './MapLayers.svelte';
  import MapTools from './MapTools.svelte';
  import { PickedLayer } from './picked';
  import { draggingIps } from './ips';
  import { RoadLayer } from './road';
  import { compass } from './says';
  import { tap, toolKey } from './taps';
  import { goTo, mapIn, wholeBox } from './view';

  let {
    title = 'Map',
    small = false,
    by = false,
  }: {
    title?: string;
    /** Beside the tracks: without read-outs and switches. */
    small?: boolean;
    /** Whether the ground can be changed by hand here. */
    by?: boolean;
  } = $props();

  const w = useWork();
  const of = $derived(w.selection.step);
  const ground = new GroundLayers(w.land.tiles);
  const backdrop = new BackdropLayer();
  const difference = new DifferenceLayer();
  const road = new RoadLayer();
  const picked = new PickedLayer();
  let map = $state.raw<OlMap | null>(null);
  let listed = $state(false);
  /** The box that is looked at from the air. */
  let air = $state.raw<number[] | null>(null);
  /** Which ground and road the view was chosen for. */
  let fitted: string | null = null;

  const changes = $derived(by ? 'ground' : of);
  const tools = $derived(TOOLS.filter((t) => !t.changes || t.changes === changes));
  const drawing = $derived(of === 'centreline' && !small ? w.drawing : null);
  /** The tool in hand, where this map has it. */
  const tool = $derived(!small && tools.some((t) => t.id === w.hand.tool) ? w.hand.tool : 'look');
  const facts = $derived(w.land.facts?.of ?? null);
  const marks = $derived(w.project?.spots?.rows ?? []);
  const looks = $derived(w.map.looks);
  // The even interval that suits, even in what is shown.
  const suits = $derived.by(() => {
    const own = facts?.contour_interval_m ?? 1;
    return unitLength() === 1 ? own : niceStep(own, 1);
  });
  const interval = $derived(looks.interval || suits);
  const shows = (id: Parameters<typeof w.map.shows>[1]) => w.map.shows(of, id);

  const draw: Attachment<HTMLElement> = (node) => {
    const made = mapIn(node, [
      backdrop.layer,
      ground.relief,
      difference.layer,
      ground.contours,
      ground.survey,
      road,
      picked,
    ]);
    if (!small) made.addInteraction(draggingIps(() => (tool === 'look' ? drawing : null)));
    made.on('moveend', () => {
      const view = made.getView();
      node.dataset.resolution = String(view.getResolution());
      if (!small && fitted !== null)
        w.map.view = { centre: view.getCenter() as [number, number], resolution: view.getResolution()! };
    });
    made.on('pointermove', (e) => {
      if (small || e.dragging) return;
      w.land.lookAt(...(e.coordinate as [number, number]));
      if (tool === 'draw') w.drawing.rubber = e.coordinate as [number, number];
    });
    made.on('singleclick', (e) => {
      const pixel = made.getView().getResolution()!;
      if (tool !== 'draw') tap(w, e, { tool, pixel, hunts: by && shows('suspects'), road: shows('road') });
    });
    // Drawn at once: whether a second click follows is of no matter there.
    let again = false;
    made.on('click', (e) => {
      if (tool === 'draw') again = !w.drawing.append(...(e.coordinate as [number, number]));
    });
    made.on('dblclick', (e) => {
      if (tool !== 'draw') return;
      // No zooming in on it; two quick clicks at two places are two IPs.
      e.stopPropagation();
      if (again) w.hand.take('look');
    });
    const sizes = new ResizeObserver(() => made.updateSize());
    sizes.observe(node);
    map = made;
    return () => {
      sizes.disconnect();
      made.setTarget(undefined);
      map = null;
    };
  };

  function fit(): void {
    const box = wholeBox(w, drawing?.ips ?? []);
    if (map && box) map.getView().fit(box, { padding: small ? [4, 4, 4, 4] : [34, 20, 30, 20] });
  }

  $effect(() => {
    const key = w.land.facts?.ground.project;
    if (!map || key === undefined || !facts) return;
    const mine = `${key} ${small ? (w.still?.key ?? '') : ''}`;
    if (fitted === mine) return;
    fitted = mine;
    const kept = small ? null : w.map.view;
    if (kept) {
      map.getView().setCenter(kept.centre);
      map.getView().setResolution(kept.resolution);
    } else fit();
  });
  $effect(() => {
    // A line that was read from a file may lie anywhere.
    if (drawing?.brought) untrack(fit);
  });
  $effect(() => {
    const range: [number, number] = facts ? [facts.box_m[2]!, facts.box_m[5]!] : [0, 1];
    const spacing = facts ? facts.spacing_m : 1;
    const { shading, smooth } = looks;
    const drawn = ground.look(
      { shading, smooth, interval, range, spacing },
      w.land.facts?.ground.key ?? '',
      theme.name,
      {
        contours: shows('contours'),
        breaklines: shows('breaklines'),
        points: shows('points'),
        // An edge can only be chosen where edges are seen.
        triangles: shows('triangles') || tool === 'edge' || tool === 'triangle',
      },
    );
    void drawn.then(() => map?.render());
  });
  $effect(() => {
    backdrop.look(
      w.project?.backdrop ?? null,
      w.project?.coordinates?.crs ?? '',
      shows('backdrop'),
      w.project?.id ?? 0,
    );
  });
  $effect(() => {
    void theme.name;
    difference.look(of === 'survey' ? w.land.compared : null);
  });
  $effect(() => {
    const { point, triangle, line } = w.hand;
    void theme.name;
    const at = point
      ? { easting_m: point.point_easting_m ?? point.easting_m, northing_m: point.point_northing_m ?? point.northing_m }
      : null;
    const list = shows('suspects') ? w.suspects : [];
    picked.look = {
      suspects: list,
      picked: w.hunt.picked,
      point: at,
      triangle,
      edge: tool === 'edge',
      line: tool === 'look' ? [] : line,
      closed: isRingTool(tool),
      rings: of === 'survey' ? w.rings : [],
    };
    picked.changed();
  });
  $effect(() => {
    // Go to a suspect that was chosen in the list.
    const chosen = w.hunt.picked.length === 1 ? w.hunt.all[w.hunt.picked[0]!] : undefined;
    if (chosen && map && !small) goTo(map.getView(), [chosen.easting_m, chosen.northing_m]);
  });
  $effect(() => {
    const { figures, plumb } = w.aside.value;
    void [theme.name, w.written.all];
    road.look = {
      still: w.still,
      figures: figures ?? w.marked,
      plumb,
      line: shows('road'),
      works: shows('works'),
      plan: drawing?.plan ?? null,
      written: small ? null : w.written,
      spots: small ? [] : marks.map((m) => ({ ...m, level_m: w.spots.level(m) })),
    };
    road.changed();
  });

  $effect(() => {
    const ground = w.land.facts?.ground;
    if (!small && ground) void w.spots.ask(ground, marks);
  });

  // Whatever ends the tool ends the drawing.
  $effect(() => {
    if (tool !== 'draw') return;
    const d = w.drawing;
    untrack(() => d.draw().catch((error: unknown) => w.notices.tell(error)));
    return () => void d.drawn();
  });

  const spot = $derived(w.land.spot);
</script>

<section class="map" class:small aria-label={title}>
  <header>
    <h2>{title}</h2>
    {#if !small}
      <div class="join" role="group" aria-label="Tools">
        {#each tools as t (t.id)}
          <button
            class="btn btn-xs join-item"
            class:btn-primary={tool === t.id}
            aria-pressed={tool === t.id}
            title={worded(t.says)}
            onclick={() => w.hand.take(t.id)}>{t.name}</button
          >
        {/each}
      </div>
      <span class="gap"></span>
      {#if by}
        <button
          class="btn btn-xs"
          aria-pressed={air !== null}
          onclick={() => (air = air ? null : map!.getView().calculateExtent())}
          title="The part on the map, looked at from the air">{air ? 'Map' : '3D'}</button
        >
      {/if}
      <button class="btn btn-xs" onclick={fit} title="Show all of it">Whole</button>
      <button class="btn btn-xs" aria-expanded={listed} onclick={() => (listed = !listed)}>Layers</button>
    {/if}
  </header>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex (arrow keys move the map) -->
  <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
  <div
    class="ground"
    {@attach draw}
    onkeydown={(e) => toolKey(w, tool, e)}
    role="application"
    aria-label="Map of the ground"
    tabindex={small ? -1 : 0}
  ></div>
  {#if !small && spot}
    <p class="spot num" role="status">
      E {figure('plan', spot.easting_m, 2)} N {figure('plan', spot.northing_m, 2)}
      {#if spot.level_m !== null}
        <b>{worded('level')} {told('level', spot.level_m)}</b>
        {#if spot.slope !== null && spot.falls_to !== null}
          slope {fixed(100 * spot.slope, 1)} % down to {compass(spot.falls_to)}
        {/if}
      {:else}no ground here{/if}
    </p>
  {/if}
  {#if air}
    {#await import('./BirdsEye.svelte') then { default: BirdsEye }}
      <div class="over"><BirdsEye box={air} /></div>
    {/await}
  {/if}
  {#if !air && tool !== 'look'}<MapTools {tool} />{/if}
  {#if tool === 'section' && w.hand.cut}<CutView />{/if}
  {#if listed}<MapLayers step={of} {interval} onclose={() => (listed = false)} />{/if}
</section>

<style>
  .map {
    contain: layout paint;
    position: relative;
    display: flex;
    flex-direction: column;
    overflow: hidden;
    width: 100%;
    height: 100%;
    background: var(--color-base-100);
  }
  .ground {
    flex: 1;
    min-height: 0;
    position: relative;
  }
  header {
    display: flex;
    align-items: center;
    gap: 4px;
    height: 30px;
    flex: none;
    padding: 0 6px 0 8px;
    background: var(--color-base-200);
    white-space: nowrap;
    font-size: 12.5px;
  }
  .small header {
    height: 22px;
  }
  h2 {
    margin: 0;
    font-size: 12px;
    font-weight: 700;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .over {
    position: absolute;
    inset: 30px 0 0;
    z-index: 2;
    display: flex;
    background: var(--color-base-100);
  }
  .spot {
    position: absolute;
    /* Behind the scale, before the north arrow. */
    left: 236px;
    bottom: 4px;
    z-index: 1;
    padding: 0 8px;
    background: var(--color-base-100);
    border-radius: 4px;
    font-size: 12.5px;
    white-space: nowrap;
  }
  .gap {
    flex: 1;
  }
</style>
