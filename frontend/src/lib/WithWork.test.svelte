<script lang="ts">
  import type { Component } from 'svelte';
  import { provideWork, type Work } from './state/work.svelte';

  // A component as it stands in an open project.
  let { w, of }: { w: Work; of: Component } = $props();
  // svelte-ignore state_referenced_locally
  provideWork(w);
  const Shown = $derived(of);
</script>

<Shown />
