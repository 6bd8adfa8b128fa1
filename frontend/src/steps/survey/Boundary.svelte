<script lang="ts">
  import Field from '../../lib/fields/Field.svelte';
  import { ringsOf } from '../../lib/state/hand.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // Where the ground ends: boundaries and holes drawn by hand or read, and the longest outer edge.
  const w = useWork();
  const outline = $derived(w.project?.outline ?? null);
  const rings = $derived(ringsOf(outline?.rows ?? []));
  const NAMES = { outer: 'Boundary', hole: 'Hole', island: 'Island' } as const;
  const own = $derived(Math.max(0, ...(w.project?.surveys ?? []).map((s) => s.longest_edge_m)));

  function take(ring: number): Promise<string | null> {
    return w.hand.outline('the boundary taken away', (now) => ({
      ...now,
      rows: now.rows.filter((r) => r.ring !== ring),
    }));
  }
</script>

<details open={rings.length > 0}>
  <summary>Where the ground ends</summary>
  <Field
    id="outline-edge"
    label="longest edge"
    value={outline?.longest_edge_m ?? null}
    dimension="size"
    optional
    free={`${own}`}
    aside="outside"
    take={(v) => {
      const edge = v as number | null;
      if (edge !== null && (edge < 0 || edge > 10_000)) return 'A length from 0 to 10 000 m.';
      return w.hand.outline('the longest edge', (now) => ({ ...now, longest_edge_m: edge }));
    }}
  />
  {#if rings.length}
    <ul aria-label="Boundaries of the ground">
      {#each rings as ring (ring[0]!.ring)}
        <li>
          {NAMES[ring[0]!.what]} of {ring.length} corners
          <button class="btn btn-xs" onclick={() => w.act(take(ring[0]!.ring))}>Take away</button>
        </li>
      {/each}
    </ul>
  {:else}<p class="faint">A boundary, a hole or an island is drawn on the map, with the tools above it.</p>{/if}
</details>

<style>
  summary {
    cursor: pointer;
    min-height: 24px;
  }
  li {
    display: flex;
    justify-content: space-between;
    gap: 8px;
    min-height: 28px;
    align-items: center;
  }
</style>
