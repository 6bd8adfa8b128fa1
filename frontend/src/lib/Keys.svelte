<script lang="ts">
  import type { Action } from './actions';

  let { actions, onclose }: { actions: Action[]; onclose: () => void } = $props();
</script>

<div class="keys" role="dialog" aria-label="Keys">
  <header><b>Keys</b><button class="btn btn-xs" onclick={onclose}>Close</button></header>
  <div class="columns">
    {#each actions.filter((a) => a.shown) as a (a.name)}
      <div><kbd>{a.shown}</kbd><span>{a.name}</span></div>
    {/each}
    <div><kbd>/</kbd><span>Command box: any action by its name</span></div>
    <div><kbd>Wheel</kbd><span>Zoom about the pointer; with Shift move along</span></div>
    <div><kbd>Click</kbd><span>Pin the plumb line, and let it go again</span></div>
    <div><kbd>Drag + Shift</kbd><span>An IP only up and down, or only along</span></div>
    <div><kbd>Drag + Ctrl</kbd><span>An IP on its grade in; with Shift on its grade out</span></div>
    <div><kbd>Double-click</kbd><span>Add an IP in the long section</span></div>
  </div>
</div>

<style>
  .keys {
    position: fixed;
    z-index: 40;
    top: 66px;
    left: 50%;
    translate: -50% 0;
    width: 860px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 8px;
    box-shadow: 0 10px 40px rgb(0 0 0 / 0.25);
    padding: 12px 16px;
  }
  header {
    display: flex;
    justify-content: space-between;
    margin-bottom: 8px;
  }
  .columns {
    columns: 2;
    column-gap: 24px;
  }
  .columns div {
    display: flex;
    gap: 10px;
    break-inside: avoid;
    padding: 2px 0;
  }
  kbd {
    min-width: 96px;
    font-family: 'Overpass Mono Variable', monospace;
    font-size: 12px;
    font-weight: 700;
  }
</style>
