<script lang="ts">
  import { hiddenTracks, TRACKS } from './deck/tracks.svelte';
  import { whole } from './format';
  import type { Step, Workspace } from './state/workspace.svelte';

  interface Props {
    w: Workspace;
    theme: string;
    oncommands: () => void;
    onkeys: () => void;
    ontheme: () => void;
  }
  let { w, theme, oncommands, onkeys, ontheme }: Props = $props();
  const hidden = hiddenTracks();
  let tracks = $state(false);

  const steps = $derived.by((): [Step, string, string, boolean][] => {
    const p = w.project;
    const fails = w.figures?.ledger.failures ?? 0;
    const gap = w.search?.result?.gap;
    return [
      ['survey', 'Survey', p?.survey ? `${whole(p.survey.point_count)} pts` : 'empty', !p?.survey],
      [
        'centreline',
        'Centreline',
        p?.centreline ? `${w.terrain?.bends.length ?? p.centreline.ips.length - 2} bends` : 'empty',
        !p?.centreline,
      ],
      ['limits', 'Limits', p?.limits ? `${p.limits.design_speed_kmh} km/h` : 'empty', false],
      ['section', 'Section', p?.section ? `each ${p.section.interval_m} m` : 'empty', false],
      [
        'line',
        'Grade line',
        fails ? `✕ ${fails} fail${fails === 1 ? 's' : ''}` : p?.lines.length ? 'fine' : 'empty',
        fails > 0,
      ],
      ['search', 'Search', typeof gap === 'number' ? `gap ${(100 * gap).toFixed(1)} %` : 'not run', false],
    ];
  });
</script>

<nav aria-label="Steps of the work">
  {#each steps as [step, name, says, attention] (step)}
    <button aria-current={w.step === step ? 'step' : undefined} onclick={() => (w.step = step)}>
      <b>{name}</b>
      <span class:attention>{says}</span>
    </button>
  {/each}
  <span class="grow"></span>
  <div class="box">
    <button class="small" aria-expanded={tracks} onclick={() => (tracks = !tracks)}>Tracks</button>
    {#if tracks}
      <div class="ticks">
        {#each TRACKS as [name, title] (name)}
          <label
            ><input
              type="checkbox"
              class="checkbox checkbox-xs"
              checked={!hidden.has(name)}
              onchange={() => hidden.toggle(name)}
            />
            {title}</label
          >
        {/each}
      </div>
    {/if}
  </div>
  <button class="small" onclick={oncommands} title="Any action by name ( / )">Commands</button>
  <button class="small" onclick={onkeys} title="List of keys ( ? )">Keys</button>
  <button class="small" onclick={ontheme} title="Light or dark ( T )">{theme === 'paper' ? 'Dark' : 'Light'}</button>
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
  button {
    display: flex;
    flex-direction: column;
    align-items: center;
    justify-content: center;
    min-height: 48px;
    border-radius: 6px;
    font-size: 13px;
    line-height: 1.3;
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
  .attention {
    color: var(--ink-failure);
    font-weight: 700;
  }
  .grow {
    flex: 1;
  }
  .small {
    min-height: 28px;
    width: 100%;
  }
  .box {
    position: relative;
  }
  .ticks {
    position: absolute;
    left: 80px;
    bottom: 0;
    z-index: 20;
    display: grid;
    gap: 4px;
    padding: 8px 12px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 6px;
    box-shadow: 0 6px 20px rgb(0 0 0 / 0.18);
    white-space: nowrap;
  }
  label {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 24px;
  }
</style>
