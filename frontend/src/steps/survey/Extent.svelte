<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { figure, told } from '../../lib/units';

  // Where points lie: west, south, lowest, east, north, highest.
  let { box }: { box: number[] | null } = $props();
</script>

{#if box}
  <dt>eastings</dt>
  <dd>{figure('plan', box[0]!, 1)} to {told('plan', box[3]!, 1)}</dd>
  <dt>northings</dt>
  <dd>{figure('plan', box[1]!, 1)} to {told('plan', box[4]!, 1)}</dd>
  <dt>{worded('levels')}</dt>
  <dd>{figure('level', box[2]!, 2)} to {told('level', box[5]!, 2)}</dd>
{/if}
