<script lang="ts">
  import { told } from '../../lib/units';
  import { whole } from '../../lib/format';
  import { rowsOf } from '../../lib/state/hand.svelte';
  import type { Suspect } from '../../lib/state/hunt.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // Points that may be no ground: the list and the map choose each other.
  const w = useWork();
  const hunt = $derived(w.hunt);
  let note = $state('');
  let problem = $state<string | null>(null);
  const WHY: Record<Suspect['why'], [one: string, many: string]> = {
    off: ['off its neighbours', 'off their neighbours'],
    double: ['at one place with another', 'at one place with others'],
    code: ['by its code', 'by their codes'],
    crossing: ['where breaklines cross', 'where breaklines cross'],
  };
  const SHOWN = 400;

  const open = $derived(w.suspects);
  /** How many of each kind nothing was decided about yet: beyond those that are listed, as many as were found. */
  const counts = $derived(
    (hunt.job?.result?.counts ?? [])
      .map(({ why, count }) => {
        const decided = hunt.all.filter((s) => s.why === why).length - open.filter(({ s }) => s.why === why).length;
        return [why, count - decided] as const;
      })
      .filter(([, n]) => n > 0),
  );
  const held = $derived(new Set(hunt.picked));
  const stale = $derived(hunt.job !== null && !hunt.live && hunt.job.revision !== w.project?.revision);
  const chosen = $derived(hunt.picked.map((i) => hunt.all[i]!).filter((s) => s.why !== 'crossing'));

  async function decide(what: 'exclude' | 'keep'): Promise<void> {
    const places = chosen.map((s) => [s.easting_m, s.northing_m, s.level_m] as [number, number, number]);
    problem = await w.hand.change(rowsOf(what, places), note, 'the decision on suspects');
    if (problem) return;
    const next = open.find(({ i }) => i > Math.max(...hunt.picked) && !held.has(i));
    hunt.pickAll(next ? [next.i] : []);
    note = '';
  }

  function walk(e: KeyboardEvent): void {
    if (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return;
    e.preventDefault();
    const at = open.findIndex(({ i }) => held.has(i));
    const next = open[Math.min(Math.max(at + (e.key === 'ArrowDown' ? 1 : -1), 0), open.length - 1)];
    if (next) hunt.pick(next.i, e.shiftKey);
  }
</script>

<h2>Suspects</h2>
{#if hunt.live}
  <p role="status">{hunt.job?.stage}…</p>
  <progress class="progress" value={hunt.job?.share ?? 0} max="1"></progress>
  <button class="btn btn-sm" onclick={() => w.project && void hunt.stop(w.project.id)}>Stop</button>
{:else}
  <button class="btn btn-sm" onclick={() => w.project && void hunt.start(w.project.id, w.project.revision)}>
    {hunt.job?.result ? 'Look again' : 'Look for suspects'}
  </button>
{/if}
{#if hunt.job?.status === 'failed'}<div class="failure-box" role="alert">{hunt.job.message}</div>{/if}
{#if hunt.job?.result && !hunt.live}
  <p data-item="counts">
    {counts.map(([why, n]) => `${whole(n)} ${WHY[why][n === 1 ? 0 : 1]}`).join(', ') ||
      (hunt.all.length ? 'All are decided.' : 'None was found.')}
  </p>
  {#if stale}<p class="faint">Found in revision {hunt.job.revision}; those decided since are left away.</p>{/if}
  {#if open.length}
    <div class="list" role="listbox" aria-label="Suspects" aria-multiselectable="true" tabindex="0" onkeydown={walk}>
      {#each open.slice(0, SHOWN) as { s, i } (i)}
        <!-- svelte-ignore a11y_click_events_have_key_events (the list has the keys) -->
        <div
          role="option"
          tabindex="-1"
          aria-selected={held.has(i)}
          class:picked={held.has(i)}
          onclick={(e) => hunt.pick(i, e.ctrlKey || e.metaKey || e.shiftKey)}
        >
          <b class="num"
            >{s.name || (s.row >= 0 ? `row ${s.row + 1}` : 'crossing')}{s.code ? ` ${s.code}` : ''}, {told(
              'level',
              s.level_m,
              2,
            )}</b
          >
          <span>{s.says}</span>
        </div>
      {/each}
    </div>
    {#if open.length > SHOWN}<p class="faint">and {whole(open.length - SHOWN)} more</p>{/if}
    <div class="buttons">
      <button class="btn btn-xs" onclick={() => hunt.pickAll(open.filter(({ s }) => s.why === 'off').map(({ i }) => i))}
        >All that are off</button
      >
      <button class="btn btn-xs" onclick={() => hunt.pickAll(open.map(({ i }) => i))}>All</button>
    </div>
    {#if chosen.length}
      <label>why <input class="field" maxlength="200" bind:value={note} placeholder="a note, if you like" /></label>
      <div class="buttons">
        <button class="btn btn-primary btn-xs" onclick={() => void decide('exclude')}
          >Take {chosen.length === 1 ? 'it' : whole(chosen.length)} out of the ground</button
        >
        <button class="btn btn-xs" onclick={() => void decide('keep')}
          >{chosen.length === 1 ? 'It is' : 'They are'} ground</button
        >
      </div>
    {/if}
    {#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
  {/if}
{/if}

<style>
  .list {
    max-height: 300px;
    overflow-y: auto;
    border: 1px solid var(--color-base-300);
    margin: 4px 0;
  }
  .list div {
    display: block;
    width: 100%;
    text-align: left;
    padding: 4px 6px 2px;
    border-bottom: 1px solid var(--color-base-300);
    line-height: 1.25;
    cursor: pointer;
  }
  .list div.picked {
    background: var(--color-base-200);
    box-shadow: inset 4px 0 0 var(--color-error);
  }
  .list span {
    display: block;
    font-size: 12.5px;
  }
  .buttons {
    display: flex;
    gap: 4px;
    flex-wrap: wrap;
    margin: 4px 0;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  label .field {
    text-align: left;
  }
</style>
