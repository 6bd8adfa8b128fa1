<script lang="ts">
  import type { Schemas } from '../../api/client';

  // The first lines that could not be read, each with the reason.
  let { errors, count }: { errors: Schemas['LineErrorOut'][]; count: number } = $props();
</script>

{#if errors.length}
  <div class="errors">
    {#each errors as e (e.line)}<p class="failure">{e.message}</p>{/each}
    {#if count > errors.length}<p class="faint">and {count - errors.length} more</p>{/if}
  </div>
{/if}

<style>
  .errors {
    max-height: 150px;
    overflow: auto;
    margin: 4px 0;
  }
</style>
