<script lang="ts">
  import { useWork } from '../../lib/state/work.svelte';

  // What lies along a road has to wait for one, with ground under it.
  let { what }: { what: string } = $props();
  const w = useWork();
</script>

{#if w.missing}
  <p class="faint">{what} along a road. {w.missing.message}</p>
  <button class="btn btn-xs" onclick={() => w.goToStep(w.missing!.step)}>Go there</button>
{/if}
