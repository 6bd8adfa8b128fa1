<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { figure, told } from '../../lib/units';
  import { whole } from '../../lib/format';
  import type { LandFigures } from '../../lib/state/land.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // What was changed about the ground by hand, newest first, each to be taken back by itself.
  const w = useWork();
  type GroundChange = LandFigures['changes'][number];
  const changes = $derived([...(w.land.facts?.of.changes ?? [])].reverse());
  const DOES: Record<GroundChange['what'], string> = {
    exclude: 'out of the ground',
    keep: 'kept as ground',
    level: 'another level',
    edge: 'edge swapped',
    breakline: 'breakline',
    drop: 'triangle taken away',
  };
  const points = (c: GroundChange) =>
    c.what === 'edge' || c.what === 'drop' ? '' : `${whole(c.points)} ${c.points === 1 ? 'point' : 'points'} `;
  const when = (at: string) =>
    new Date(at).toLocaleString([], {
      month: 'short',
      day: 'numeric',
      hour: '2-digit',
      minute: '2-digit',
      hour12: false,
    });
</script>

{#if changes.length}
  <h2>Changed by hand</h2>
  <ul aria-label="Changes of the ground by hand">
    {#each changes as c (c.slot)}
      <li>
        <b>{points(c)}{worded(DOES[c.what])}</b>
        {#if c.what === 'level' && c.new_level_m !== null}
          <span class="num">{figure('level', c.level_m)} → {told('level', c.new_level_m)}</span>
        {/if}
        <span class="faint">{c.author ? `${c.author}, ` : ''}{when(c.made_at)}</span>
        {#if c.note}<p>{c.note}</p>{/if}
        {#if c.idle}<p class="failure">Changes nothing: {c.idle}</p>{/if}
        <button class="btn btn-xs" onclick={() => w.act(w.hand.takeBack(c.slot))}>Take back</button>
      </li>
    {/each}
  </ul>
{/if}

<style>
  ul {
    max-height: 200px;
    overflow-y: auto;
  }
  li {
    position: relative;
    padding: 4px 84px 4px 0;
    border-bottom: 1px solid var(--color-base-300);
    line-height: 1.3;
    min-height: 32px;
  }
  li button {
    position: absolute;
    right: 0;
    top: 4px;
  }
  p {
    font-size: 12.5px;
  }
</style>
