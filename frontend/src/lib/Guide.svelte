<script lang="ts">
  import { PAGES, shown, type PageId } from './guide';

  // What a step can do, with its words and keys, beside the work.
  let { page, onclose }: { page: PageId; onclose: () => void } = $props();
  // Going to another step turns to its page.
  let open = $derived<PageId>(page);
</script>

<div class="guide" role="dialog" aria-label="Help">
  <header>
    <select class="select select-sm" aria-label="Page of the guide" bind:value={open}>
      {#each PAGES as [id, title] (id)}<option value={id}>{title}</option>{/each}
    </select>
    <span class="grow"></span>
    <button class="btn btn-xs" onclick={onclose}>Close</button>
  </header>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex (scrolled by keys) -->
  <div class="text" tabindex="0" role="region" aria-label="Text">
    {#await shown(open) then html}
      <!-- eslint-disable-next-line svelte/no-at-html-tags -- pages of this program, shipped with it -->
      {@html html}
    {/await}
  </div>
</div>

<style>
  .guide {
    position: fixed;
    z-index: 40;
    top: 58px;
    right: 8px;
    bottom: 8px;
    width: 440px;
    display: flex;
    flex-direction: column;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 8px;
    box-shadow: 0 10px 40px rgb(0 0 0 / 0.25);
  }
  header {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 8px 12px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .grow {
    flex: 1;
  }
  .text {
    overflow: auto;
    padding: 4px 16px 16px;
    font-size: 13.5px;
    line-height: 1.5;
  }
  .text :global(h1) {
    font-size: 17px;
    font-weight: 700;
    margin: 10px 0 6px;
  }
  .text :global(h2) {
    font-size: 14px;
    font-weight: 700;
    margin: 14px 0 4px;
  }
  .text :global(p) {
    margin: 6px 0;
  }
  .text :global(ul) {
    list-style: disc;
    padding-left: 18px;
    margin: 6px 0;
  }
  .text :global(li) {
    margin: 3px 0;
  }
  .text :global(code) {
    font-family: 'Overpass Mono Variable', monospace;
    font-size: 12.5px;
    padding: 0 3px;
    background: var(--color-base-200);
    border-radius: 3px;
  }
</style>
