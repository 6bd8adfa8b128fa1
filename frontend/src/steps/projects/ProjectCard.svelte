<script lang="ts">
  import { glanceOf } from '../../lib/state/asked';
  import { told } from '../../lib/units';
  import type { Schemas } from '../../api/client';
  import { whole } from '../../lib/format';

  interface Props {
    project: Schemas['ProjectItem'];
    onopen: () => void;
  }
  let { project, onopen }: Props = $props();
  let glance = $state.raw<Schemas['GlanceOut'] | null>(null);
  const [W, H] = [340, 92];

  // What follows from a project comes after the list: a slow one holds up no other.
  $effect(() => {
    glanceOf(project.id)
      .then((g) => (glance = g))
      .catch(() => (glance = null));
  });

  const shapes = $derived.by(() => {
    const all = [...(glance?.ground ?? []), ...(glance?.line ?? [])] as [number, number][];
    if (all.length < 2) return null;
    const s = all.map((p) => p[0]);
    const z = all.map((p) => p[1]);
    const [s0, s1, z0, z1] = [Math.min(...s), Math.max(...s), Math.min(...z), Math.max(...z)];
    const x = (v: number) => (8 + ((v - s0) / (s1 - s0 || 1)) * (W - 16)).toFixed(1);
    const y = (v: number) => (H - 10 - ((v - z0) / (z1 - z0 || 1)) * (H - 20)).toFixed(1);
    const path = (points: number[][]) => points.map(([a, b]) => `${x(a!)},${y(b!)}`).join(' ');
    const ground = glance?.ground ?? [];
    return { ground: path(ground), line: path(glance?.line ?? []), under: `8,${H} ${path(ground)} ${W - 8},${H}` };
  });
  const when = (at: string) => {
    const d = new Date(at);
    return `${d.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })}, ${d.toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', hour12: false })}`;
  };
</script>

<button class="card" onclick={onopen}>
  <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label={`Long section of ${project.name}`}>
    {#if shapes}
      {#if shapes.ground}
        <polygon points={shapes.under} class="earth" />
        <polyline points={shapes.ground} class="ground" />
      {/if}
      <polyline points={shapes.line} class="line" />
    {:else}
      <text x={W / 2} y={H / 2 + 4} text-anchor="middle">{glance ? 'no ground along a line yet' : '…'}</text>
    {/if}
  </svg>
  <b>{project.name}</b>
  <dl class="num">
    <div>
      <dt>length</dt>
      <dd>{glance?.length_m ? told('distance', glance.length_m, 2) : '–'}</dd>
    </div>
    <div>
      <dt>cost{glance?.currency ? `, ${glance.currency}` : ''}</dt>
      <dd>{typeof glance?.cost === 'number' ? whole(glance.cost) : '–'}</dd>
    </div>
    <div>
      <dt>limits</dt>
      <dd class:failure={!!glance?.failures}>
        {typeof glance?.failures !== 'number'
          ? '–'
          : glance.failures
            ? `✕ ${glance.failures} fail${glance.failures === 1 ? 's' : ''}`
            : 'all kept'}
      </dd>
    </div>
  </dl>
  <span class="faint num saved"
    >{when(project.saved_at)}{project.author ? `, by ${project.author}` : ''}: {project.label}</span
  >
</button>

<style>
  .card {
    display: grid;
    gap: 4px;
    padding: 0 0 10px;
    text-align: left;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 8px;
    overflow: hidden;
    cursor: pointer;
    min-width: 0;
  }
  .card:hover {
    border-color: var(--color-primary);
  }
  svg {
    width: 100%;
    border-bottom: 1px solid var(--color-base-300);
  }
  .earth {
    fill: color-mix(in srgb, var(--ink-ground) 12%, transparent);
  }
  .ground {
    fill: none;
    stroke: var(--ink-ground);
    stroke-width: 1;
  }
  .line {
    fill: none;
    stroke: var(--ink-line);
    stroke-width: 2;
  }
  text {
    fill: var(--ink-faint);
    font-size: 12px;
  }
  b {
    padding: 4px 12px 0;
    font-size: 15px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  dl {
    display: grid;
    grid-template-columns: repeat(3, 1fr);
    padding: 0 12px;
  }
  dt {
    font-size: 12px;
    color: var(--ink-faint);
  }
  dd {
    font-weight: 700;
  }
  .saved {
    padding: 0 12px;
    font-size: 12px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
