<script lang="ts">
  import { fixed } from '../../lib/format';

  // Where points lie: west, south, lowest, east, north, highest.
  let { box }: { box: number[] | null } = $props();
</script>

{#if box}
  <dt>eastings</dt>
  <dd>{fixed(box[0]!, 1)} to {fixed(box[3]!, 1)}</dd>
  <dt>northings</dt>
  <dd>{fixed(box[1]!, 1)} to {fixed(box[4]!, 1)}</dd>
  <dt>levels</dt>
  <dd>{fixed(box[2]!, 2)} to {fixed(box[5]!, 2)}</dd>
{/if}
