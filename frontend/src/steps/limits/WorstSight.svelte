<script lang="ts">
  import { ready } from '../../lib/deck/canvas';
  import { label } from '../../lib/deck/draw';
  import { inks } from '../../lib/deck/ink';
  import { sameCase } from '../../lib/state/figures.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';
  import { theme } from '../../lib/theme.svelte';
  import { told } from '../../lib/units';

  // The worst line of sight past bends: from the eye to what must be seen, over the road, batters and ground it passes.
  const w = useWork();
  let canvas = $state<HTMLCanvasElement>();
  let width = $state(0);
  const HEIGHT = 116;
  const after = $derived(w.figures.after);
  const fresh = $derived(after !== null && sameCase(after.of, w.case));
  const all = $derived(after?.products.space?.worst ?? []);
  let which = $state(0);
  const worst = $derived(all[Math.min(which, all.length - 1)] ?? null);

  $effect(() => {
    const c = ready(canvas, width, HEIGHT);
    const a = after?.arrays;
    void theme.name;
    if (!c || !worst || !a) return;
    const [along, ray, surface] = ['along', 'ray', 'surface'].map((name) => a[`space_${worst.way}_${name}`]);
    if (!along || !ray || !surface || !along.length) return;
    const ink = inks();
    const known = [...ray, ...surface].filter((z) => !Number.isNaN(z));
    const [lo, hi] = [Math.min(...known), Math.max(...known)];
    const far = along[along.length - 1]!;
    const x = (m: number) => 6 + (m / far) * (width - 12);
    const y = (z: number) => HEIGHT - 22 - ((z - lo) / Math.max(hi - lo, 0.5)) * (HEIGHT - 44);
    // The surface that is passed, down to the edge; what stands over the line of sight is hatched.
    const ground = new Path2D();
    const over = new Path2D();
    ground.moveTo(x(0), HEIGHT - 16);
    for (let i = 0; i < along.length; i++) ground.lineTo(x(along[i]!), y(Number.isNaN(surface[i]!) ? lo : surface[i]!));
    ground.lineTo(x(far), HEIGHT - 16);
    for (let i = 0; i + 1 < along.length; i++) {
      const above = (k: number) => Math.max(surface[k]! - ray[k]!, 0) || 0;
      if (!above(i) && !above(i + 1)) continue;
      over.moveTo(x(along[i]!), y(ray[i]!));
      over.lineTo(x(along[i]!), y(ray[i]! + above(i)));
      over.lineTo(x(along[i + 1]!), y(ray[i + 1]! + above(i + 1)));
      over.lineTo(x(along[i + 1]!), y(ray[i + 1]!));
    }
    c.globalAlpha = 0.25;
    c.fillStyle = ink.ground;
    c.fill(ground);
    c.globalAlpha = 1;
    c.fillStyle = ink.failureHatch;
    c.fill(over);
    c.strokeStyle = ink.plumb;
    c.lineWidth = 1.5;
    c.beginPath();
    for (let i = 0; i < along.length; i++) c.lineTo(x(along[i]!), y(ray[i]!));
    c.stroke();
    label(c, 'eye', 6, Math.max(y(ray[0]!) - 6, 11), ink.plumb, true);
    c.textAlign = 'right';
    label(c, 'object', width - 6, Math.max(y(ray[ray.length - 1]!) - 6, 11), ink.plumb, true);
    c.textAlign = 'center';
    label(c, told('about', far), width / 2, HEIGHT - 4, ink.faint);
    c.textAlign = 'left';
  });
</script>

{#if worst}
  <h2>
    Worst line of sight past bends{#if !fresh}<span class="faint">, on its way</span>{/if}
  </h2>
  {#if all.length > 1}
    <div class="ways" role="radiogroup" aria-label="Direction">
      {#each all as { way }, i (way)}
        <label
          ><input type="radio" class="radio radio-xs" value={i} bind:group={which} />{way === 'ahead'
            ? 'ahead'
            : 'coming back'}</label
        >
      {/each}
    </div>
  {/if}
  <button
    class="words"
    onclick={() => {
      w.selection.pinned = true;
      w.selection.setPlumb(worst.hidden_at_m);
      w.selection.axes.reveal(worst.hidden_at_m);
    }}>{worded(worst.sentence)}</button
  >
  <div class:behind={!fresh} bind:clientWidth={width}>
    <canvas bind:this={canvas} style:height={`${HEIGHT}px`} aria-label="Worst line of sight"></canvas>
  </div>
{/if}

<style>
  h2 {
    margin: 8px 0 2px;
    font-size: 13px;
    font-weight: 700;
  }
  .ways {
    display: flex;
    gap: 12px;
  }
  label {
    display: flex;
    gap: 4px;
    align-items: center;
    min-height: 24px;
  }
  .words {
    text-align: left;
    font-size: 12.5px;
    cursor: pointer;
  }
  canvas {
    width: 100%;
  }
  .behind {
    opacity: 0.45;
  }
</style>
