<script lang="ts">
  import { onMount } from 'svelte';
  import type { Action } from './actions';

  let { actions, onclose }: { actions: Action[]; onclose: () => void } = $props();
  let text = $state('');
  let at = $state(0);
  let input = $state<HTMLInputElement>();
  // Whatever had the focus: an autofocus leaves it to a button that was clicked before.
  onMount(() => input?.focus());
  const hits = $derived(
    actions.filter((a) => {
      const name = a.name.toLowerCase();
      return text
        .toLowerCase()
        .split(/\s+/)
        .every((word) => name.includes(word));
    }),
  );
  const chosen = $derived(Math.min(at, hits.length - 1));

  function run(action: Action | undefined): void {
    onclose();
    action?.run();
  }
  function key(e: KeyboardEvent): void {
    if (e.key === 'ArrowDown') at = Math.min(chosen + 1, hits.length - 1);
    else if (e.key === 'ArrowUp') at = Math.max(chosen - 1, 0);
    else if (e.key === 'Enter') run(hits[chosen]);
    else if (e.key === 'Escape') onclose();
    else return;
    e.preventDefault();
    e.stopPropagation();
  }
</script>

<div class="box" role="dialog" aria-label="Command box">
  <input
    class="field"
    placeholder="what to do"
    aria-label="What to do"
    bind:this={input}
    bind:value={text}
    oninput={() => (at = 0)}
    onkeydown={key}
    onblur={() => setTimeout(onclose, 120)}
  />
  <div role="listbox" aria-label="Actions">
    {#each hits as action, i (action.name)}
      <button
        role="option"
        aria-selected={i === chosen}
        onmousedown={(e) => e.preventDefault()}
        onclick={() => run(action)}
      >
        <span>{action.name}</span><kbd>{action.shown ?? ''}</kbd>
      </button>
    {:else}
      <p class="faint">No action is called that.</p>
    {/each}
  </div>
</div>

<style>
  .box {
    position: fixed;
    z-index: 40;
    top: 70px;
    left: 50%;
    width: 440px;
    translate: -50% 0;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 8px;
    box-shadow: 0 10px 40px rgb(0 0 0 / 0.25);
    padding: 8px;
  }
  .field {
    text-align: left;
    height: 34px;
    font-size: 15px;
  }
  div[role='listbox'] {
    max-height: 380px;
    overflow: auto;
    margin-top: 6px;
  }
  button {
    display: flex;
    justify-content: space-between;
    width: 100%;
    min-height: 28px;
    align-items: center;
    padding: 0 8px;
    border-radius: 4px;
    cursor: pointer;
  }
  button[aria-selected='true'],
  button:hover {
    background: var(--color-base-200);
  }
</style>
