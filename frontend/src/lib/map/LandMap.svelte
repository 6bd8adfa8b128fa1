<script lang="ts">
  import 'ol/ol.css';
  import OlMap from 'ol/Map';
  import type MapBrowserEvent from 'ol/MapBrowserEvent';
  import View from 'ol/View';
  import { defaults as interactionsOf } from 'ol/interaction/defaults';
  import type { Attachment } from 'svelte/attachments';
  import { fixed } from '../format';
  import { useWork } from '../state/work.svelte';
  import { theme } from '../theme.svelte';
  import { GRID, PLANE } from './grid';
  import { GroundLayers } from './ground';
  import MapLayers from './MapLayers.svelte';
  import { placeAt, RoadLayer } from './road';
  import { compass } from './says';

  let {
    title = 'Map',
    small = false,
    step,
  }: {
    title?: string;
    /** Beside the tracks: without read-outs and switches. */
    small?: boolean;
    /** Whose layers are shown; the present step's if it isn't given. */
    step?: string;
  } = $props();

  const w = useWork();
  const of = $derived(step ?? w.selection.step);
  const ground = new GroundLayers(w.land.tiles);
  const road = new RoadLayer();
  let map = $state.raw<OlMap | null>(null);
  let listed = $state(false);
  /** Which ground and road the view was chosen for. */
  let fitted: string | null = null;

  const facts = $derived(w.land.facts?.of ?? null);
  const looks = $derived(w.map.looks);
  const interval = $derived(looks.interval || (facts?.contour_interval_m ?? 1));
  const shows = (id: Parameters<typeof w.map.shows>[1]) => w.map.shows(of, id);

  const draw: Attachment<HTMLElement> = (node) => {
    const made = new OlMap({
      target: node,
      layers: [...ground.all, road],
      controls: [],
      interactions: interactionsOf({ altShiftDragRotate: false, pinchRotate: false }),
      view: new View({
        projection: PLANE,
        center: [0, 0],
        resolution: 1,
        maxResolution: GRID.getResolution(0),
        minResolution: 2 ** -9,
        constrainResolution: false,
        enableRotation: false,
      }),
    });
    made.on('moveend', () => {
      const view = made.getView();
      if (!small && fitted !== null) w.map.view = { centre: view.getCenter() as [number, number], resolution: view.getResolution()! };
    });
    made.on('pointermove', (e) => {
      if (!small && !e.dragging) w.land.lookAt(...(e.coordinate as [number, number]));
    });
    made.on('singleclick', (e) => click(e));
    const sizes = new ResizeObserver(() => made.updateSize());
    sizes.observe(node);
    map = made;
    return () => {
      sizes.disconnect();
      made.setTarget(undefined);
      map = null;
    };
  };

  /** The box that is looked at first: the road in its steps, else all the ground. */
  function whole(): number[] | null {
    const line = w.still?.arrays;
    if (line && of !== 'survey') {
      const [e, n] = [line.plan_e!, line.plan_n!];
      return [Math.min(...e) - 70, Math.min(...n) - 70, Math.max(...e) + 70, Math.max(...n) + 70];
    }
    const b = facts?.box_m;
    return b ? [b[0]!, b[1]!, b[3]!, b[4]!] : null;
  }

  function fit(): void {
    const box = whole();
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
    void [theme.name, w.land.facts];
    const range: [number, number] = facts ? [facts.box_m[2]!, facts.box_m[5]!] : [0, 1];
    const spacing = facts ? Math.sqrt(facts.plan_area_m2 / facts.points) : 1;
    const { shading, smooth } = looks;
    ground.look(
      { shading, smooth, interval, range, spacing },
      { contours: shows('contours'), breaklines: shows('breaklines'), points: shows('points') },
    );
  });
  $effect(() => {
    const { figures, plumb } = w.aside.value;
    void theme.name;
    road.look = { still: w.still, figures, plumb, line: shows('road'), works: shows('works'), written: true };
    road.changed();
  });

  /** A click puts the plumb line at the nearest chainage. */
  function click(e: MapBrowserEvent): void {
    const still = w.still;
    if (!still || !shows('road')) return;
    const [x, y] = e.coordinate as [number, number];
    const cs = still.arrays.plan_chainage!;
    let [best, least] = [0, Infinity];
    for (let i = 0; i < cs.length; i++) {
      const p = placeAt(still, cs[i]!);
      const d = Math.hypot(p[0] - x, p[1] - y);
      if (d < least) [least, best] = [d, i];
    }
    w.selection.setPlumb(cs[best]!);
    w.selection.axes.reveal(cs[best]!);
    w.selection.pinned = true;
  }

  const spot = $derived(w.land.spot);
</script>

<section class="map" class:small aria-label={title}>
  <header>
    <h3>{title}</h3>
    {#if !small}
      <p class="spot num" role="status">
        {#if spot}
          E {fixed(spot.easting_m, 2)} N {fixed(spot.northing_m, 2)}
          {#if spot.level_m !== null}
            <b>level {fixed(spot.level_m, 3)} m</b>
            {#if spot.slope !== null && spot.falls_to !== null}
              slope {fixed(100 * spot.slope, 1)} % down to {compass(spot.falls_to)}
            {/if}
          {:else}no ground here{/if}
        {/if}
      </p>
      <button class="btn btn-xs" onclick={fit} title="Show all of it">Whole</button>
      <button class="btn btn-xs" aria-expanded={listed} onclick={() => (listed = !listed)}>Layers</button>
    {/if}
  </header>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex (arrow keys move the map) -->
  <div class="ground" {@attach draw} role="application" aria-label="Map of the ground" tabindex={small ? -1 : 0}></div>
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
  h3 {
    font-size: 12px;
    font-weight: 700;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .spot {
    flex: 1;
    text-align: right;
    padding-right: 8px;
  }
</style>
