<script lang="ts">
  import { STEPS } from '../steps';
  import { useWork } from './state/work.svelte';
  import { theme } from './theme.svelte';
  import TrackList from './TrackList.svelte';
  import { unitOf } from './units';
  import Units from './Units.svelte';

  interface Props {
    oncommands: () => void;
    onkeys: () => void;
    onguide: () => void;
  }
  let { oncommands, onkeys, onguide }: Props = $props();
  const w = useWork();
  let tracks = $state(false);
  let units = $state(false);
  const deck = $derived(STEPS.find((s) => s.id === w.selection.step)?.layout === 'deck');
</script>

<nav aria-label="Steps of the work">
  {#each STEPS as step (step.id)}
    {@const status = step.status(w)}
    <button
      aria-current={w.selection.step === step.id ? 'step' : undefined}
      onclick={() => {
        tracks = false;
        w.goToStep(step.id);
      }}
    >
      <b>{step.name}</b>
      <span class:attention={status.attention}>{status.says}</span>
    </button>
  {/each}
  <span class="grow"></span>
  {#if deck}
    <div class="box">
      <button class="small" aria-expanded={tracks} onclick={() => (tracks = !tracks)}>Tracks</button>
      {#if tracks}<TrackList onclose={() => (tracks = false)} />{/if}
    </div>
  {/if}
  <div class="box">
    <button class="small" aria-expanded={units} onclick={() => (units = !units)} title="Metres or feet ( U )"
      >{unitOf('length') === 'm' ? 'Metres' : 'Feet'}</button
    >
    {#if units}<Units onclose={() => (units = false)} />{/if}
  </div>
  <button class="small" onclick={oncommands} title="Any action by name ( / )">Commands</button>
  <button class="small" onclick={onkeys} title="List of keys ( ? )">Keys</button>
  <button class="small" onclick={onguide} title="What this step can do ( F1 )">Help</button>
  <button class="small" onclick={() => theme.toggle()} title="Light or dark ( T )"
    >{theme.name === 'paper' ? 'Dark' : 'Light'}</button
  >
</nav>

<style>
  nav {
    display: flex;
    flex-direction: column;
    gap: 4px;
    padding: 8px 6px;
    border-right: 1px solid var(--color-base-300);
    background: var(--color-base-200);
  }
  nav > button,
  .small {
    display: flex;
    flex-direction: column;
    align-items: center;
    justify-content: center;
    min-height: 48px;
    padding: 4px 2px;
    border-radius: 6px;
    font-size: 13px;
    line-height: 1.2;
    cursor: pointer;
  }
  button span {
    font-size: 12px;
    color: var(--ink-faint);
  }
  button:hover {
    background: var(--color-base-300);
  }
  button[aria-current] {
    background: var(--color-primary);
    color: var(--color-primary-content);
  }
  button[aria-current] span {
    color: inherit;
  }
  button:not([aria-current]) .attention {
    color: var(--ink-failure);
    font-weight: 700;
  }
  .grow {
    flex: 1;
  }
  nav .small {
    min-height: 28px;
    padding: 2px;
    width: 100%;
  }
  .box {
    position: relative;
  }
</style>
