<script lang="ts">
  import type { Attachment } from 'svelte/attachments';
  import {
    BufferAttribute,
    BufferGeometry,
    Color,
    DoubleSide,
    Fog,
    Line,
    LineBasicMaterial,
    Mesh,
    MeshBasicMaterial,
    PerspectiveCamera,
    Scene,
    Vector3,
    WebGLRenderer,
  } from 'three';
  import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
  import { inks } from '../../lib/deck/ink';
  import { valueAt } from '../../lib/lookup';
  import { sameCase } from '../../lib/state/figures.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // The finished road with the ground beside it: from the air, or from a driver's eye at the plumb line.
  const w = useWork();
  $effect(() => {
    w.selection.want('space', ['solid']);
    return () => w.selection.want('space', []);
  });
  const solid = $derived(w.figures.after?.products.solid ?? null);
  const arrays = $derived(w.figures.after?.arrays ?? null);
  const behind = $derived(!sameCase(w.figures.after?.of ?? null, w.case));
  /** Height of a driver's eye [m]: common practice, as stopping sight is judged. */
  const eyeHeight = $derived(w.project?.limits?.eye_m ?? 1.08);
  let times = $state(1);
  /** So many triangles are one piece, drawn or left out as a whole. */
  const CHUNK = 1500;

  /** Middle of the road at a chainage: easting, northing, level of the line, direction. */
  function placeAt(s: number): [number, number, number, number] | null {
    const plan = w.still?.arrays;
    const line = w.shownFigures?.arrays;
    if (!plan?.plan_chainage || !line?.line_chainage) return null;
    const [e, n, turn] = ['plan_e', 'plan_n', 'plan_direction'].map((name) =>
      valueAt(plan.plan_chainage!, plan[name]!, s),
    );
    const z = valueAt(line.line_chainage, line.line_level!, s);
    return Number.isFinite(e! + n! + z + turn!) ? [e!, n!, z, turn!] : null;
  }

  const draw: Attachment<HTMLElement> = (node) => {
    const [of, a] = [solid, arrays];
    if (!of || !a?.solid_xyz?.length) return;
    const ink = inks();
    // The land lies back behind what is built on it.
    const land = `#${new Color(ink.relief).lerp(new Color(ink.paper), 0.5).getHexString()}`;
    const COLOURS: Record<string, string> = {
      ground: land,
      road: '#5b5d60',
      beside: '#a39a86',
      cut: ink.cut,
      fill: ink.fill,
      wall: '#777777',
    };
    const [x0, y0, z0] = of.middle;
    const up = times;
    // East to the right, up is up, north into the picture.
    const place = (x: number, y: number, z: number) => new Vector3(x, z * up, -y);
    const xyz = a.solid_xyz;
    const triangle = a.solid_triangle!;
    const part = a.solid_part!;
    const scene = new Scene();
    scene.background = new Color(ink.paper);
    const made: { dispose(): void }[] = [];
    const inkOf = of.parts.map((name) => new Color(COLOURS[name] ?? ink.other));
    const material = new MeshBasicMaterial({ vertexColors: true, side: DoubleSide });
    made.push(material);
    const sun = new Vector3(-1, 1.6, -0.7).normalize();
    const [p, q, r, u, v] = [new Vector3(), new Vector3(), new Vector3(), new Vector3(), new Vector3()];
    const corner = (to: Vector3, i: number) => to.set(xyz[3 * i]!, xyz[3 * i + 2]! * up, -xyz[3 * i + 1]!);
    // Shaded once, and cut into stretches: without a graphics card that is what makes it turn smoothly.
    for (let first = 0; first < part.length; first += CHUNK) {
      const count = Math.min(CHUNK, part.length - first);
      const position = new Float32Array(9 * count);
      const colour = new Float32Array(9 * count);
      for (let t = 0; t < count; t++) {
        const at = 3 * (first + t);
        const corners = [p, q, r].map((to, k) => corner(to, triangle[at + k]!));
        const normal = u.subVectors(q, p).cross(v.subVectors(r, p)).normalize();
        const light = 0.62 + 0.42 * Math.abs(normal.dot(sun));
        const own = inkOf[part[first + t]!]!;
        corners.forEach((c, k) => {
          c.toArray(position, 9 * t + 3 * k);
          colour.set([own.r * light, own.g * light, own.b * light], 9 * t + 3 * k);
        });
      }
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new BufferAttribute(position, 3));
      geometry.setAttribute('color', new BufferAttribute(colour, 3));
      scene.add(new Mesh(geometry, material));
      made.push(geometry);
    }
    // The plumb line stands across the road.
    const mark = new BufferGeometry();
    const post = new Line(mark, new LineBasicMaterial({ color: ink.plumb }));
    scene.add(post);
    made.push(mark);
    const size = () => [Math.max(node.clientWidth, 1), Math.max(node.clientHeight, 1)] as const;
    const camera = new PerspectiveCamera(45, size()[0] / size()[1], 0.5, 9000);
    const renderer = new WebGLRenderer({ antialias: false });
    renderer.setPixelRatio(1);
    renderer.setSize(...size());
    node.append(renderer.domElement);
    const controls = new OrbitControls(camera, renderer.domElement);
    let frames = 0;
    // Drawn when something has moved, and not else; how often is written for whoever measures it.
    const paint = () => {
      renderer.render(scene, camera);
      node.dataset.frames = String(++frames);
    };
    controls.addEventListener('change', paint);
    function look(): void {
      const s = w.selection.plumb;
      const here = placeAt(s);
      if (!here) return;
      const [e, n, z, turn] = here;
      const at = place(e - x0, n - y0, z - z0);
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
      const aside = (o: number, dz: number) => place(e - x0 + o * sin, n - y0 - o * cos, z - z0 + dz);
      mark.setFromPoints([aside(-8, 0.2), aside(8, 0.2), aside(8, 6), aside(-8, 6), aside(-8, 0.2)]);
      if (w.walk.eye === 'driver') {
        const lane = w.project?.limits?.drive_on === 'left' ? -1.5 : 1.5;
        camera.position.copy(aside(lane, eyeHeight));
        const ahead = placeAt(s + 40) ?? [e + 40 * cos, n + 40 * sin, z, turn];
        const to = place(ahead[0] - x0 + lane * sin, ahead[1] - y0 - lane * cos, ahead[2] - z0 + eyeHeight * 0.9);
        controls.enabled = false;
        camera.lookAt(to);
        scene.fog = new Fog(ink.paper, 300, 1800);
        post.visible = false;
      } else {
        scene.fog = null;
        post.visible = true;
        controls.enabled = true;
        const from = controls.target.clone();
        controls.target.copy(at);
        if (!moved) camera.position.copy(at).add(new Vector3(-150 * cos + 60, 110, 150 * sin + 60));
        else camera.position.add(at.clone().sub(from));
        moved = true;
        controls.update();
      }
      paint();
    }
    let moved = false;
    const stop = $effect.root(() => {
      $effect(() => {
        void [w.selection.plumb, w.walk.eye, w.shownFigures];
        look();
      });
    });
    const sizes = new ResizeObserver(() => {
      renderer.setSize(...size());
      camera.aspect = size()[0] / size()[1];
      camera.updateProjectionMatrix();
      paint();
    });
    sizes.observe(node);
    return () => {
      stop();
      sizes.disconnect();
      controls.dispose();
      renderer.dispose();
      for (const thing of made) thing.dispose();
      renderer.domElement.remove();
    };
  };
</script>

<div class="space" class:behind role="img" aria-label="The road in space" {@attach draw}>
  <p>
    <label
      >heights ×
      <select class="select select-xs" bind:value={times} aria-label="Heights in space">
        {#each [1, 2, 3, 5] as t (t)}<option value={t}>{t}</option>{/each}
      </select></label
    >
    <span
      >{w.walk.eye === 'air'
        ? 'Drag to turn, wheel to come closer; the plumb line leads along the road.'
        : 'Move the plumb line to drive.'}</span
    >
    {#if !solid}<span class="faint">is worked out</span>{/if}
  </p>
</div>

<style>
  .space {
    flex: 1;
    min-height: 0;
    position: relative;
    overflow: hidden;
  }
  .behind :global(canvas) {
    opacity: 0.5;
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
    font-size: 12px;
    margin: 0;
  }
  label {
    display: flex;
    gap: 4px;
    align-items: center;
    white-space: nowrap;
  }
</style>
