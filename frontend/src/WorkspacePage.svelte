<script lang="ts">
  import { onMount } from 'svelte';
  import { tinykeys } from 'tinykeys';
  import { actionsOf, Nudger, type Action } from './lib/actions';
  import CommandBox from './lib/CommandBox.svelte';
  import Deck from './lib/deck/Deck.svelte';
  import { hiddenTracks } from './lib/deck/tracks.svelte';
  import Keys from './lib/Keys.svelte';
  import Ledger from './lib/Ledger.svelte';
  import LineTabs from './lib/LineTabs.svelte';
  import Plan from './lib/plan/Plan.svelte';
  import Rail from './lib/Rail.svelte';
  import SectionView from './lib/section/SectionView.svelte';
  import { Workspace, type Step } from './lib/state/workspace.svelte';
  import type { Theme } from './lib/theme';
  import CentrelineStep from './steps/centreline/CentrelineStep.svelte';
  import IpCard from './steps/line/IpCard.svelte';
  import IpTable from './steps/line/IpTable.svelte';
  import LimitsPanel from './steps/limits/LimitsPanel.svelte';
  import SearchPanel from './steps/search/SearchPanel.svelte';
  import SectionPanel from './steps/section/SectionPanel.svelte';
  import SurveyStep from './steps/survey/SurveyStep.svelte';

  let { id, theme, ontheme }: { id: number; theme: Theme; ontheme: () => void } = $props();
  const w = new Workspace();
  const nudger = new Nudger(w);
  const hidden = hiddenTracks();
  let failed = $state<string | null>(null);
  let commands = $state(false);
  let keys = $state(false);

  const actions: Action[] = actionsOf(
    w,
    {
      goTo: (step: Step) => (w.step = step),
      theme: () => ontheme(),
      help: () => (keys = !keys),
      projects: () => (location.hash = ''),
    },
    nudger,
  );

  onMount(() => {
    w.open(id).catch((error: unknown) => (failed = error instanceof Error ? error.message : String(error)));
    const bindings: Record<string, (e: KeyboardEvent) => void> = {
      '/': (e) => {
        if (e.target instanceof HTMLElement && e.target.matches('input, select, textarea')) return;
        e.preventDefault();
        commands = true;
      },
    };
    for (const action of actions) {
      for (const key of action.keys ?? []) {
        bindings[key] = (e) => {
          // A field keeps its own keys; undo in it is the field's too.
          if (e.target instanceof HTMLElement && e.target.matches('input, select, textarea, [role=option]')) return;
          e.preventDefault();
          if (key === 'Escape' && (keys || commands)) keys = commands = false;
          else action.run();
        };
      }
    }
    return tinykeys(window, bindings);
  });

  // Whoever watches from outside (a test, a script) sees when the figures belong to what is saved.
  const following = $derived.by(() => {
    if (!w.project) return 'opening';
    if (w.draft) return 'trying';
    if (w.saving) return 'saving';
    return !w.line || w.missing || w.figures?.revision === w.project.revision ? 'saved' : 'following';
  });
  const lastSaved = $derived(w.project?.history.newest[0]);
  const deckSteps: Step[] = ['line', 'limits', 'section', 'search'];
</script>

<svelte:window onfocus={() => void w.look()} />

<div class="page" data-state={following} data-revision={w.project?.revision}>
  <header class="top">
    <a class="brand" href="#/" title="List of projects"><img src="/mark.svg" alt="" width="26" height="26" />Delgrun</a>
    <div class="title">
      <b title={w.project?.name}>{w.project?.name ?? ''}</b>
      <span class="faint num">
        {#if lastSaved}saved {new Date(lastSaved.created_at).toLocaleTimeString([], {
            hour: '2-digit',
            minute: '2-digit',
            hour12: false,
          })}, rev. {w.project?.revision}{/if}
      </span>
    </div>
    <div class="turn">
      <button
        class="btn btn-xs"
        disabled={!w.project?.history.undo}
        onclick={() => void w.turn('undo')}
        title={`Undo: ${w.project?.history.undo ?? 'nothing'} (Ctrl+Z)`}>Undo</button
      >
      <button
        class="btn btn-xs"
        disabled={!w.project?.history.redo}
        onclick={() => void w.turn('redo')}
        title={`Redo: ${w.project?.history.redo ?? 'nothing'} (Ctrl+Shift+Z)`}>Redo</button
      >
    </div>
    <LineTabs {w} {theme} />
    <Ledger {w} />
  </header>
  <Rail {w} oncommands={() => (commands = true)} onkeys={() => (keys = true)} {theme} {ontheme} />
  {#if failed}
    <main class="empty">
      <div class="failure-box" role="alert">{failed}</div>
      <a class="btn" href="#/">List of projects</a>
    </main>
  {:else if w.step === 'survey'}
    <SurveyStep {w} />
  {:else if w.step === 'centreline'}
    <CentrelineStep {w} />
  {:else if deckSteps.includes(w.step)}
    <div class="work">
      <main class="main deck-side">
        {#if w.terrain}
          {#key theme}<Deck {w} />{/key}
          {#if !hidden.has('ips') && w.line}<IpTable {w} />{/if}
        {:else if w.missing}
          <div class="empty">
            <h2>The ground along the line is not there yet</h2>
            <p>{w.missing.message}</p>
            <button class="btn btn-primary" onclick={() => (w.step = w.missing!.step as Step)}>Go there</button>
          </div>
        {/if}
      </main>
      <aside>
        {#if w.step === 'line'}
          {#key theme}
            <div class="plan"><Plan {w} /></div>
            <div class="section"><SectionView {w} /></div>
          {/key}
          {#if w.terrain && !w.line}
            <h2>No grade line yet</h2>
            <p>Start with a straight one from end to end, then drag its handles and add IPs.</p>
            <button class="btn btn-primary btn-sm" onclick={() => void w.newLine()}>New straight line</button>
          {:else if w.line}<IpCard {w} />{/if}
        {:else if w.step === 'limits'}<LimitsPanel {w} />
        {:else if w.step === 'section'}{#key theme}<SectionPanel {w} />{/key}
        {:else}<SearchPanel {w} />{/if}
      </aside>
    </div>
  {/if}
</div>

{#if w.conflict}
  <div class="notice conflict" role="alertdialog" aria-label="Saved elsewhere since">
    <b>Not saved: the project was changed elsewhere.</b>
    <p>{w.conflict.message}</p>
    <div>
      <button class="btn btn-sm btn-primary" onclick={() => void w.settle(false)}>Show what was saved</button>
      {#if w.conflict.ips}
        <button class="btn btn-sm" onclick={() => void w.settle(true)}
          >Show it, and keep mine as a line of its own</button
        >
      {/if}
    </div>
  </div>
{:else if w.notice}
  <div class="notice" class:bad={w.notice.bad} role={w.notice.bad ? 'alert' : 'status'}>
    <span>{w.notice.text}</span>
    <button class="btn btn-xs" onclick={() => (w.notice = null)}>Close</button>
  </div>
{/if}
{#if commands}<CommandBox {actions} onclose={() => (commands = false)} />{/if}
{#if keys}<Keys {actions} onclose={() => (keys = false)} />{/if}

<style>
  .page {
    display: grid;
    grid-template: 56px minmax(0, 1fr) / 88px minmax(0, 1fr);
    height: 100%;
  }
  .top {
    grid-column: 1 / -1;
    display: flex;
    align-items: center;
    border-bottom: 1px solid var(--color-base-300);
    background: var(--color-base-200);
    min-width: 0;
  }
  .brand {
    display: flex;
    flex-direction: column;
    align-items: center;
    width: 88px;
    font-weight: 800;
    font-size: 12px;
    line-height: 1.3;
    flex: none;
  }
  .title {
    display: flex;
    flex-direction: column;
    line-height: 1.25;
    max-width: 150px;
    flex: none;
  }
  .title b {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    font-size: 14.5px;
  }
  .title span {
    font-size: 12px;
    white-space: nowrap;
  }
  .turn {
    display: grid;
    gap: 2px;
    margin-left: 8px;
  }
  .deck-side {
    position: relative;
    display: flex;
    flex-direction: column;
  }
  .plan {
    height: 148px;
    margin: 0 -10px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .section {
    height: 158px;
    margin: 0 -10px 4px;
    border-bottom: 1px solid var(--color-base-300);
  }
  .empty {
    display: grid;
    place-content: center;
    justify-items: center;
    gap: 10px;
    height: 100%;
    padding: 0 15%;
    text-align: center;
  }
  .notice {
    position: fixed;
    z-index: 30;
    right: 12px;
    bottom: 12px;
    max-width: 440px;
    display: flex;
    gap: 12px;
    align-items: center;
    padding: 8px 12px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-left: 4px solid var(--color-success);
    border-radius: 4px;
    box-shadow: 0 6px 24px rgb(0 0 0 / 0.2);
  }
  .notice.bad,
  .conflict {
    border-left-color: var(--color-error);
  }
  .conflict {
    display: block;
  }
  .conflict div {
    display: flex;
    gap: 8px;
    margin-top: 8px;
  }
</style>
