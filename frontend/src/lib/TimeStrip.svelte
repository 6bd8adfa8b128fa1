<script lang="ts">
  import { figure, told } from './units';
  import { onMount, untrack } from 'svelte';
  import { signedWhole, whole } from './format';
  import type { PastState } from './state/past.svelte';
  import { useWork } from './state/work.svelte';

  // Looking back: one tick for each saved state, by time; the one in hand with its ledger, to go back to or to name.
  const w = useWork();
  const past = w.past;
  let strip: HTMLElement;
  /** A pause longer than this is a gap in the strip, and says when work went on. [ms] */
  const PAUSE_MS = 10 * 60_000;

  const clock = (at: string) =>
    new Date(at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', hour12: false });
  const day = (at: string) => new Date(at).toLocaleDateString([], { day: '2-digit', month: 'short' });

  function gap(before: PastState | undefined, s: PastState): string {
    if (!before || day(before.created_at) !== day(s.created_at)) return `${day(s.created_at)} ${clock(s.created_at)}`;
    return Date.parse(s.created_at) - Date.parse(before.created_at) > PAUSE_MS ? clock(s.created_at) : '';
  }

  onMount(() => strip.focus());
  // Whatever is saved while it is open stands in it.
  $effect(() => {
    if (w.project?.revision) void past.load().catch((error: unknown) => w.notices.tell(error));
  });
  // Another line, or a state that was restored since, is looked at anew.
  $effect(() => {
    void w.selection.slot;
    untrack(() => void past.look(past.at));
  });
  $effect(() => {
    const at = past.at ?? past.states.at(-1)?.number;
    strip.querySelector(`[data-state-number="${at}"]`)?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  });
  let name = $derived(past.state?.name ?? '');

  const of = $derived(past.figures?.products.ledger ?? null);
  const cost = $derived(of && w.ledger ? of.cost - w.ledger.cost : null);

  function key(e: KeyboardEvent): void {
    const steps: Record<string, number> = {
      ArrowLeft: -1,
      ArrowRight: 1,
      PageUp: -10,
      PageDown: 10,
      Home: -1e9,
      End: 1e9,
    };
    if (e.key in steps) past.step(steps[e.key]!);
    else if (e.key === 'Escape') past.close();
    else return;
    e.preventDefault();
    e.stopPropagation();
  }

  async function back(all: boolean): Promise<void> {
    const to = past.at;
    const why = await past.back(all);
    if (why) {
      if (!w.store.conflict) w.notices.tell(why);
      return;
    }
    w.notices.say(`As of revision ${to} again. Undo brings back what was there.`);
    void past.look(null);
  }
</script>

<section class="strip" aria-label="History">
  <button class="btn btn-xs" disabled={!past.more} onclick={() => void past.earlier()} title="List older states"
    >Older</button
  >
  <div
    class="ticks"
    role="listbox"
    tabindex="0"
    aria-label="States of the project"
    aria-activedescendant={past.at === null ? undefined : `state-${past.at}`}
    bind:this={strip}
    onkeydown={key}
  >
    {#each past.states as s, i (s.number)}
      {@const pause = gap(past.states[i - 1], s)}
      {#if pause}<span class="pause num">{pause}</span>{/if}
      <!-- svelte-ignore a11y_click_events_have_key_events -->
      <div
        id={`state-${s.number}`}
        class="tick"
        class:mine={w.selection.slot !== null && s.slots.includes(w.selection.slot)}
        class:turned={s.kind !== 'edit'}
        role="option"
        tabindex="-1"
        aria-selected={s.number === past.at}
        aria-label={`${clock(s.created_at)} ${s.name || s.label}`}
        title={`${clock(s.created_at)}, rev. ${s.number}: ${s.kind === 'edit' ? '' : `${s.kind} of `}${s.label}`}
        data-state-number={s.number}
        onclick={() => void past.look(s.number)}
      >
        <span class="mark"></span>
        {#if s.name}<span class="flag">{s.name}</span>{/if}
      </div>
    {/each}
    <span class="pause">now</span>
  </div>
  <div class="hand">
    {#if past.state}
      {@const s = past.state}
      <div class="what">
        <b class="num">{clock(s.created_at)}, rev. {s.number}</b>
        <span class="label" title={s.label}>{s.kind === 'edit' ? '' : `${s.kind} of: `}{s.label}</span>
      </div>
      <div class="what num" data-past-cost={of?.cost}>
        {#if of}
          <span
            >cost {whole(of.cost)}
            {w.project?.cost?.currency}{cost !== null && Math.round(cost) !== 0 ? ` (${signedWhole(cost)})` : ''}, cut {figure(
              'volume',
              of.cut_m3,
            )}, fill {told('volume', of.fill_m3)},
            <span class:failure={of.failures > 0}>{of.failures ? `✕ ${of.failures} fail` : 'nothing fails'}</span></span
          >
        {:else}<span class="faint">{past.without || (w.selection.slot ? 'working it out…' : 'no grade line')}</span
          >{/if}
      </div>
      <div class="what">
        <button
          class="btn btn-xs"
          disabled={!of}
          onclick={() => void back(false)}
          title="The present line as it was then">Restore the line</button
        >
        <button class="btn btn-xs" onclick={() => void back(true)} title="All of the project as it was then"
          >Restore all</button
        >
        <input
          class="field"
          aria-label="Name of this state"
          placeholder="name it"
          maxlength="60"
          bind:value={name}
          onblur={() => {
            if (name.trim() !== past.state?.name) void past.name(name).catch((error: unknown) => w.notices.tell(error));
          }}
          onkeydown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
            e.stopPropagation();
          }}
        />
      </div>
    {:else}
      <p class="faint">Choose a state: its line is drawn dashed, with what it cost. Arrow keys step through them.</p>
    {/if}
  </div>
  <button class="btn btn-xs" onclick={() => past.close()} title="Close the history (H)">Close</button>
</section>

<style>
  .strip {
    display: flex;
    align-items: center;
    gap: 8px;
    height: 84px;
    padding: 0 8px;
    border-bottom: 1px solid var(--color-base-300);
    background: var(--color-base-100);
    box-shadow: 0 3px 8px rgb(0 0 0 / 0.12);
    min-width: 0;
  }
  .ticks {
    flex: 1;
    display: flex;
    align-items: flex-end;
    height: 100%;
    padding: 22px 4px 8px;
    overflow-x: auto;
    overflow-y: hidden;
  }
  /* Keys are told by a line under the states: a frame round all of it would say nothing. */
  .ticks:focus-visible {
    outline: none;
    box-shadow: inset 0 -2px 0 var(--color-primary);
  }
  .tick {
    position: relative;
    flex: none;
    width: 12px;
    height: 44px;
    display: flex;
    align-items: flex-end;
    justify-content: center;
    cursor: pointer;
  }
  .mark {
    width: 4px;
    height: 14px;
    border-radius: 2px;
    background: var(--ink-faint);
  }
  .mine .mark {
    height: 28px;
    background: var(--ink-line);
  }
  .turned .mark {
    opacity: 0.45;
  }
  .tick:hover .mark,
  .tick[aria-selected='true'] .mark {
    width: 8px;
    background: var(--ink-plumb);
  }
  .flag {
    position: absolute;
    bottom: 32px;
    left: 5px;
    padding: 0 4px;
    border-left: 2px solid var(--ink-plumb);
    background: var(--color-base-200);
    font-size: 12px;
    line-height: 18px;
    white-space: nowrap;
    z-index: 1;
  }
  .pause {
    flex: none;
    align-self: flex-end;
    padding: 0 8px;
    font-size: 12px;
    color: var(--ink-faint);
    white-space: nowrap;
  }
  .hand {
    flex: none;
    width: 420px;
    font-size: 12.5px;
  }
  .what {
    display: flex;
    align-items: center;
    gap: 8px;
    min-height: 24px;
    white-space: nowrap;
  }
  .label {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .field {
    width: 150px;
    height: 24px;
    text-align: left;
  }
</style>
