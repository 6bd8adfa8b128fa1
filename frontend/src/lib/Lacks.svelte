<script lang="ts">
  import { shortenRoad } from './state/roads';
  import { told } from './units';
  import { chainage } from './format';
  import { useWork } from './state/work.svelte';

  // Where the centreline runs past the surveyed ground, and what can be done about it.
  const w = useWork();
  const g = $derived(w.still?.ground ?? null);
  const ends = $derived(
    g
      ? [
          ...(g.start_lacks_m > 0
            ? [`its first ${told('length', g.start_lacks_m)}, so the road starts at ${chainage(g.start_m, 2)}`]
            : []),
          ...(g.end_lacks_m > 0
            ? [`its last ${told('length', g.end_lacks_m)}, so the road ends at ${chainage(g.end_m, 2)}`]
            : []),
        ]
      : [],
  );

  const shorten = () => w.act(shortenRoad(w));
</script>

{#if ends.length}
  <div class="advice-box" data-item="lacks">
    <b>The centreline runs past the survey</b>
    <p>There is no ground along {ends.join(', and along ')}.</p>
    <button class="btn btn-xs" onclick={shorten}>Shorten the centreline to its ground</button>
  </div>
{/if}
