<script lang="ts">
  import { system } from './lib/system.svelte';
  import { follow } from './lib/state/follow.svelte';
  import { onMount, untrack } from 'svelte';
  import { tinykeys } from 'tinykeys';
  import { actionsOf, toggleHistory, type Action } from './lib/actions';
  import CommandBox from './lib/CommandBox.svelte';
  import ConflictBox from './lib/ConflictBox.svelte';
  import Deck from './lib/deck/Deck.svelte';
  import Guide from './lib/Guide.svelte';
  import type { PageId } from './lib/guide';
  import Keys from './lib/Keys.svelte';
  import Ledger from './lib/Ledger.svelte';
  import LineTabs from './lib/LineTabs.svelte';
  import Rail from './lib/Rail.svelte';
  import { provideWork, Work } from './lib/state/work.svelte';
  import { SHOWN } from './steps/shown';
  import { addressIn, addressOf } from './lib/address';
  import { theme } from './lib/theme.svelte';
  import TimeStrip from './lib/TimeStrip.svelte';
  import { STEPS } from './steps';

  let { id }: { id: number } = $props();
  const w = provideWork(new Work(SHOWN));
  follow(w);
  let failed = $state<string | null>(null);
  let commands = $state(false);
  let keys = $state(false);
  let guide = $state(false);
  const step = $derived(STEPS.find((s) => s.id === w.selection.step) ?? STEPS[0]!);
  const Panel = $derived(step.panel);

  const actions: Action[] = $derived(
    actionsOf(w, {
      theme: () => theme.toggle(),
      help: () => (keys = !keys),
      guide: () => (guide = !guide),
      projects: () => (location.hash = ''),
    }),
  );

  /** A field keeps its own keys; undo is its own only while it holds something typed. */
  function belongsToField(e: KeyboardEvent, key: string): boolean {
    const at = e.target;
    if (!(at instanceof HTMLElement) || !at.matches('input, select, textarea, button, summary, a, [role=option]'))
      return false;
    // What could be instead of what was typed there; and buttons keep only what presses them.
    if (/^(Alt\+\d|F1)$/.test(key)) return false;
    if (at.matches('button, summary, a')) return key === 'Enter';
    const turns = key.startsWith('$mod+');
    // Lists and boxes to tick hold nothing that could be undone in them.
    const chosen = at.matches('select, [role=option], input[type=checkbox], input[type=radio]');
    const typing = at.dataset.touched === 'yes' || !(chosen || at.matches('input.field'));
    return !turns || typing;
  }

  onMount(() => {
    w.open(id, addressIn(location.hash)).catch(
      (error: unknown) => (failed = error instanceof Error ? error.message : String(error)),
    );
    const bindings: Record<string, (e: KeyboardEvent) => void> = {
      '/': (e) => {
        if (belongsToField(e, '/')) return;
        e.preventDefault();
        commands = true;
      },
    };
    for (const action of actions) {
      for (const key of action.keys ?? []) {
        bindings[key] = (e) => {
          if (belongsToField(e, key)) return;
          e.preventDefault();
          if (key === 'Escape' && (keys || commands || guide)) keys = commands = guide = false;
          else action.run();
        };
      }
    }
    const unbind = tinykeys(window, bindings);
    return () => {
      unbind();
      w.close();
    };
  });

  $effect(() => {
    // The address follows without a step in the browser's history: undo is the program's own.
    const to = [w.selection.step, w.selection.slot] as const;
    if (w.project)
      history.replaceState(
        null,
        '',
        addressOf(
          untrack(() => id),
          ...to,
        ),
      );
  });

  /** Somebody typed another address of this project, or went back to one. */
  function turned(): void {
    const to = addressIn(location.hash);
    const line = w.project?.lines.find((l) => l.slot === to.line);
    if (line && line.road !== w.road?.slot) w.chooseRoad(line.road);
    if (line) w.choose(line.slot);
    if (STEPS.some((s) => s.id === to.step)) w.goToStep(to.step!);
  }

  function leaving(e: BeforeUnloadEvent): void {
    w.trial.flush();
    if (w.store.saving || w.drawing.dirty) e.preventDefault();
  }

  const lastSaved = $derived(w.project?.history.newest[0]);
  const time = (at: string) =>
    new Date(at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', hour12: false });
</script>

<svelte:window onfocus={() => void w.look()} onbeforeunload={leaving} onhashchange={turned} />

<div class="page" data-state={w.state} data-revision={w.project?.revision}>
  <header class="top">
    <h1 class="sr-only">{w.project?.name ?? 'Delgrun'}: {step.name}</h1>
    <a class="brand" href="#/" title="List of projects"><img src="/mark.svg" alt="" width="26" height="26" />Delgrun</a>
    <div class="title">
      <b title={w.project?.name}>{w.project?.name ?? ''}</b>
      {#if w.store.away && w.store.saving}
        <span class="away" role="status">not saved yet: the server is away</span>
      {:else}
        <button
          class="faint num"
          aria-expanded={w.past.open}
          onclick={() => toggleHistory(w)}
          title="Look back along the history (H)"
          >{lastSaved ? `saved ${time(lastSaved.created_at)}, rev. ${w.project?.revision}` : ''}</button
        >
      {/if}
    </div>
    <div class="turn">
      <button
        class="btn btn-xs"
        disabled={!w.turns[0]}
        onclick={() => void w.turn('undo')}
        title={`Undo: ${w.project?.history.undo ?? 'nothing'} (Ctrl+Z)`}>Undo</button
      >
      <button
        class="btn btn-xs"
        disabled={!w.turns[1]}
        onclick={() => void w.turn('redo')}
        title={`Redo: ${w.project?.history.redo ?? 'nothing'} (Ctrl+Shift+Z)`}>Redo</button
      >
    </div>
    <LineTabs />
    <Ledger />
  </header>
  <div class="past">
    {#if w.past.open}<TimeStrip />{/if}
  </div>
  <Rail oncommands={() => (commands = true)} onkeys={() => (keys = true)} onguide={() => (guide = !guide)} />
  <!-- In other units everything is drawn anew: pictures and fields hold numbers as they were written. -->
  {#key system()}
    {#if failed}
      <main class="empty">
        <div class="failure-box" role="alert">{failed}</div>
        <a class="btn" href="#/">List of projects</a>
      </main>
    {:else if step.layout === 'page'}
      <main class="whole">
        {#if w.project}<Panel />{/if}
      </main>
    {:else}
      <div class="work">
        <main class="main">
          {#if w.figures.failed}
            <div class="failure-box" role="alert">{w.figures.failed}</div>
          {/if}
          {#if w.still && !(w.missing && w.missing.step !== 'line')}
            {#if step.above && w.project}<div class="above"><step.above /></div>{/if}
            <Deck />
          {:else if w.missing}
            <div class="empty">
              <h2>The ground along the line is not there yet</h2>
              <p>{w.missing.message}</p>
              <button class="btn btn-primary" onclick={() => w.goToStep(w.missing!.step)}>Go there</button>
            </div>
          {/if}
          {#if step.over && w.project}<step.over />{/if}
        </main>
        <!-- Each step begins at the top of its panel. -->
        {#key step.id}
          <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
          <aside tabindex="0" aria-label={step.name}>
            {#if w.project}<Panel />{/if}
          </aside>
        {/key}
      </div>
    {/if}
  {/key}
</div>

{#if w.store.conflict}<ConflictBox />
{:else if w.store.away && w.store.saving}
  <div class="notice bad" role="alert">
    <span>
      The server does not answer. What was saved is kept, and what was changed since is here: it is sent as soon as the
      server is back.
    </span>
    <button class="btn btn-xs" onclick={() => w.store.drop()} title="Give up what is not saved yet">Drop it</button>
  </div>
{:else if w.notices.shown}
  <div class="notice" class:bad={w.notices.shown.bad} role={w.notices.shown.bad ? 'alert' : 'status'}>
    <span>{w.notices.shown.text}</span>
    <button class="btn btn-xs" onclick={() => w.notices.clear()}>Close</button>
  </div>
{/if}
{#if commands}<CommandBox {actions} onclose={() => (commands = false)} />{/if}
{#if keys}<Keys {actions} onclose={() => (keys = false)} />{/if}
{#if guide}<Guide page={step.id as PageId} onclose={() => (guide = false)} />{/if}

<style>
  .page {
    display: grid;
    grid-template: 56px auto minmax(0, 1fr) / 88px minmax(0, 1fr);
    height: 100%;
  }
  .top {
    grid-column: 1 / -1;
    display: flex;
    align-items: center;
    border-bottom: 1px solid var(--color-base-300);
    background: var(--color-base-200);
    min-width: 0;
    container: head / inline-size;
  }
  /* The step lays the page out itself. */
  .whole {
    display: contents;
  }
  /* It lies over the deck, which keeps its room. */
  .past {
    grid-column: 1 / -1;
    position: relative;
    z-index: 5;
    height: 0;
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
    max-width: clamp(130px, 13vw, 420px);
    flex: none;
  }
  .title b {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    font-size: 14.5px;
  }
  .title span,
  .title button {
    font-size: 12px;
    white-space: nowrap;
  }
  .title button {
    padding: 0;
    min-height: 24px;
    text-align: left;
    cursor: pointer;
    text-decoration: underline dotted;
    text-underline-offset: 3px;
  }
  .turn {
    display: grid;
    gap: 2px;
    margin-left: 8px;
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
  /* The tracks keep what the long section needs. */
  .above {
    flex: 2.1 1 0;
    min-height: 0;
    display: flex;
    flex-direction: column;
    border-bottom: 1px solid var(--color-base-300);
  }
  .away {
    color: var(--ink-failure);
    font-weight: 600;
  }
  .title span.away {
    white-space: normal;
    line-height: 1.1;
  }
</style>
