<script lang="ts">
  import { useWork } from './state/work.svelte';

  const w = useWork();
  const c = $derived(w.store.conflict);
</script>

{#if c}
  <div class="notice bad stack" role="alertdialog" aria-label="Saved elsewhere since">
    <b>Not saved: the project was changed elsewhere.</b>
    <p>{c.message} Yours is kept here: {c.change.what}.</p>
    <div>
      <button class="btn btn-sm btn-primary" onclick={() => void w.settle('again')}>Save mine on top of it</button>
      {#if c.change.line}
        <button class="btn btn-sm" onclick={() => void w.settle('beside')}>Keep mine as a line of its own</button>
      {/if}
      <button class="btn btn-sm" onclick={() => void w.settle('theirs')}>Show what was saved, drop mine</button>
    </div>
  </div>
{/if}

<style>
  p {
    margin: 4px 0 0;
  }
  div div {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-top: 8px;
  }
</style>
