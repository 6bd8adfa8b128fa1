<script lang="ts">
  import type { Snippet } from 'svelte';

  // A button that opens a short list over everything else; Escape, or a click beside it, closes it.
  let { name, title, children }: { name: string; title: string; children: Snippet } = $props();
  const id = $props.id();
  let button: HTMLElement;
  let open = $state(false);

  /** Below its button, or above it where there is no room. */
  function place(e: ToggleEvent): void {
    open = e.newState === 'open';
    const list = e.currentTarget as HTMLElement;
    const { left, bottom, top } = button.getBoundingClientRect();
    const below = bottom + 2 + list.offsetHeight < window.innerHeight;
    list.style.left = `${Math.max(4, Math.min(left, window.innerWidth - list.offsetWidth - 8))}px`;
    list.style.top = `${below ? bottom + 2 : Math.max(4, top - list.offsetHeight - 2)}px`;
  }
</script>

<button bind:this={button} class="btn btn-xs" popovertarget={id} aria-expanded={open} {title}>{name}</button>
<div {id} popover="auto" class="drop" role="group" aria-label={title} ontoggle={place}>{@render children()}</div>

<style>
  button {
    flex: none;
    height: 24px;
    min-height: 24px;
    font-size: 12px;
  }
  .drop {
    margin: 0;
    padding: 6px 10px;
    background: var(--color-base-100);
    color: var(--color-base-content);
    border: 1px solid var(--color-base-300);
    border-radius: 4px;
    box-shadow: 0 2px 8px rgb(0 0 0 / 0.15);
    font-size: 13px;
  }
  .drop :global(label) {
    display: flex;
    align-items: center;
    gap: 6px;
    min-height: 26px;
    cursor: pointer;
    white-space: nowrap;
  }
</style>
