<script lang="ts">
  import type { ComponentProps } from 'svelte';
  import type LandMap from './LandMap.svelte';

  // The map's library is three times the rest of the page: it comes when a map is shown.
  const loaded = import('./LandMap.svelte');
  let props: ComponentProps<typeof LandMap> = $props();
</script>

{#await loaded then { default: Shown }}<Shown {...props} />{/await}
