<script lang="ts">
  import { birdsEye } from '../state/asked';
  import type { Attachment } from 'svelte/attachments';
  import {
    BufferAttribute,
    BufferGeometry,
    Color,
    DirectionalLight,
    DoubleSide,
    AmbientLight,
    Mesh,
    MeshLambertMaterial,
    PerspectiveCamera,
    Points,
    PointsMaterial,
    Raycaster,
    Scene,
    Vector2,
    WebGLRenderer,
  } from 'three';
  import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
  import type { Arrays } from '../../api/binary';
  import { inks } from '../deck/ink';
  import { useWork } from '../state/work.svelte';

  // The ground from the air, heights exaggerated: spikes show at once, and can be picked.
  let { box }: { box: number[] } = $props();
  const w = useWork();
  let times = $state(3);
  let problem = $state<string | null>(null);
  let ground = $state.raw<{ middle: number[]; whole: boolean; arrays: Arrays } | null>(null);

  $effect(() => {
    const g = w.land.facts?.ground;
    if (!g) return;
    let stale = false;
    birdsEye(g.project, g.revision, box)
      .then((found) => {
        if (!stale) [ground, problem] = [found, null];
      })
      .catch((error: unknown) => {
        if (!stale) problem = error instanceof Error ? error.message : String(error);
      });
    return () => {
      stale = true;
    };
  });

  const draw: Attachment<HTMLElement> = (node) => {
    const g = ground;
    if (!g) return;
    const ink = inks();
    const { xyz, triangle } = g.arrays;
    const low = Array.from(xyz!).reduce((a, z, i) => (i % 3 === 2 ? Math.min(a, z) : a), Infinity);
    // East to the right, up is up, north into the picture.
    const place = (i: number) => [xyz![3 * i]!, (xyz![3 * i + 2]! - low) * times, -xyz![3 * i + 1]!];
    const position = new Float32Array(xyz!.length);
    for (let i = 0; i < xyz!.length / 3; i++) position.set(place(i), 3 * i);
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(position, 3));
    geometry.setIndex(new BufferAttribute(Uint32Array.from(triangle!), 1));
    geometry.computeBoundingSphere();
    const scene = new Scene();
    scene.background = new Color(ink.paper);
    const material = new MeshLambertMaterial({ color: ink.contourMain, flatShading: true, side: DoubleSide });
    const land = new Mesh(geometry, material);
    const sun = new DirectionalLight(0xffffff, 2.2);
    sun.position.set(-1, 1.2, -1);
    scene.add(land, sun, new AmbientLight(0xffffff, 0.7));
    // Beside the land that is shown they would hang in the air.
    const [west, south, east, north] = box as [number, number, number, number];
    const here = w.suspects.filter(
      ({ s }) => s.easting_m >= west && s.easting_m <= east && s.northing_m >= south && s.northing_m <= north,
    );
    const marks = here.map(({ s }) => [
      s.easting_m - g.middle[0]!,
      (s.level_m - low) * times,
      -(s.northing_m - g.middle[1]!),
    ]);
    const spots = new BufferGeometry();
    spots.setAttribute('position', new BufferAttribute(Float32Array.from(marks.flat()), 3));
    const mark = new PointsMaterial({ color: ink.failure, size: 9, sizeAttenuation: false });
    scene.add(new Points(spots, mark));
    const size = () => [node.clientWidth, Math.max(node.clientHeight, 1)] as const;
    const radius = geometry.boundingSphere!.radius;
    const camera = new PerspectiveCamera(40, size()[0] / size()[1], radius / 500, radius * 20);
    camera.position.set(0, radius * 1.1, radius * 1.5);
    const renderer = new WebGLRenderer({ antialias: false });
    renderer.setSize(...size());
    node.append(renderer.domElement);
    const controls = new OrbitControls(camera, renderer.domElement);
    controls.target.copy(geometry.boundingSphere!.center);
    // Drawn when something has moved, and not else.
    const paint = () => renderer.render(scene, camera);
    controls.addEventListener('change', paint);
    controls.update();
    paint();
    const sizes = new ResizeObserver(() => {
      renderer.setSize(...size());
      camera.aspect = size()[0] / size()[1];
      camera.updateProjectionMatrix();
      paint();
    });
    sizes.observe(node);
    let down = { x: 0, y: 0 };
    const press = (e: PointerEvent) => (down = { x: e.clientX, y: e.clientY });
    const release = (e: PointerEvent) => {
      // Turning the land is no picking.
      if (Math.hypot(e.clientX - down.x, e.clientY - down.y) > 4) return;
      const at = renderer.domElement.getBoundingClientRect();
      const x = ((e.clientX - at.left) / at.width) * 2 - 1;
      const y = -((e.clientY - at.top) / at.height) * 2 + 1;
      const ray = new Raycaster();
      ray.setFromCamera(new Vector2(x, y), camera);
      const hit = ray.intersectObject(land)[0];
      if (!hit) return;
      w.hand.tool = 'point';
      void w.hand.click(g.middle[0]! + hit.point.x, g.middle[1]! - hit.point.z, radius);
    };
    renderer.domElement.addEventListener('pointerdown', press);
    renderer.domElement.addEventListener('pointerup', release);
    return () => {
      sizes.disconnect();
      controls.dispose();
      renderer.dispose();
      geometry.dispose();
      material.dispose();
      renderer.domElement.remove();
    };
  };
</script>

<div class="air" aria-label="The ground from the air" role="img" {@attach draw}>
  <p>
    <label
      >heights ×
      <select class="select select-sm" bind:value={times} aria-label="Exaggeration from the air">
        {#each [1, 2, 3, 5, 10] as t (t)}<option value={t}>{t}</option>{/each}
      </select></label
    >
    <span>Drag to turn, wheel to come closer, click a point to take it in hand.</span>
    {#if ground && !ground.whole}<span class="faint">Highest and lowest points of small squares.</span>{/if}
    {#if problem}<b class="failure" role="alert">{problem}</b>{/if}
  </p>
</div>

<style>
  .air {
    flex: 1;
    min-height: 0;
    position: relative;
    overflow: hidden;
  }
  p {
    position: absolute;
    z-index: 1;
    left: 8px;
    top: 6px;
    display: flex;
    gap: 12px;
    align-items: center;
    padding: 2px 8px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 4px;
  }
  label {
    display: flex;
    gap: 4px;
    align-items: center;
    white-space: nowrap;
  }
</style>
