<script lang="ts">
  import { told } from '../../lib/units';
  import { worded } from '../../lib/system.svelte';
  import Lacks from '../../lib/Lacks.svelte';

  import Map from '../../lib/map/Map.svelte';
  import type { Keeps } from '../../lib/state/drawing.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import Bends from './Bends.svelte';
  import DraftSection from './DraftSection.svelte';
  import Ips from './Ips.svelte';
  import Points from './Points.svelte';
  import Roads from './Roads.svelte';
  import Rules from './Rules.svelte';
  import SettingOut from './SettingOut.svelte';

  const w = useWork();
  const d = $derived(w.drawing);
  const saved = $derived(w.road);
  const TABS = [
    ['ips', 'IPs', Ips],
    ['bends', 'Bends', Bends],
    ['points', 'Points', Points],
    ['setting-out', 'Setting out', SettingOut],
    ['rules', 'Rules', Rules],
  ] as const;
  let tab = $state<(typeof TABS)[number][0]>('ips');
  const Tab = $derived(TABS.find(([id]) => id === tab)![2]);
  const KEEPS: [Keeps, string][] = [
    ['place', 'their place on the ground'],
    ['chainage', 'their chainage'],
    ['share', 'their share of the length'],
  ];
  const followers = $derived(w.lines.length + w.notes.length > 0);

  function save(): void {
    if (w.hand.tool === 'draw') w.hand.take('look');
    void d.save();
  }

  $effect(() => w.drawing.follow());
</script>

<div class="work widest">
  <div class="main">
    {#if w.project?.surveys.length}
      <div class="map">
        <Map title={d.dirty ? 'The centreline as typed, dashed' : saved ? 'The centreline' : 'The ground'} />
      </div>
      <div class="section"><DraftSection /></div>
    {:else}
      <div class="empty">
        <h2>The centreline</h2>
        <p>
          Type or paste its IPs on the right, with a radius at each corner and transitions where there are any, or read
          them from a text table or from LandXML. Once there is a survey it can be drawn over the ground.
        </p>
        {#if w.missing}<p class="faint">{w.missing.message}</p>{/if}
      </div>
    {/if}
  </div>
  <aside>
    <header>
      <h2>Centreline{d.draft?.length_m ? `, ${told('about', d.draft.length_m)}` : ''}</h2>
      <div class="join" role="tablist" aria-label="Parts of the centreline">
        {#each TABS as [id, name] (id)}
          <button
            class="btn btn-xs join-item"
            class:btn-primary={tab === id}
            role="tab"
            aria-selected={tab === id}
            onclick={() => (tab = id)}>{name}</button
          >
        {/each}
      </div>
    </header>
    <Roads />
    {#if d.problem}
      <div class="failure-box" role="alert">
        {d.problem}
        {#if d.draft?.remedies.length}
          <div class="remedies" role="group" aria-label="What would mend it">
            {#each d.draft.remedies as remedy (remedy.label)}
              <button class="btn btn-xs" onclick={() => d.mend(remedy)}>{remedy.label}</button>
            {/each}
          </div>
        {/if}
      </div>
    {/if}
    {#if d.misfits.length}
      <div class="advice-box" data-item="misfits">
        <b>{d.misfits.length === 1 ? 'One bend is' : `${d.misfits.length} bends are`} smaller than wished</b>
        <button class="btn btn-xs" onclick={() => (d.misfits = [])}>Close</button>
        <ul>
          {#each d.misfits as m (m.ip)}<li>
              <button class="link" onclick={() => (d.current = m.ip)}>IP {m.ip + 1}</button>: {m.reason}
            </li>{/each}
        </ul>
      </div>
    {/if}
    {#if w.missing?.step === 'centreline' && saved && !d.dirty}
      <div class="failure-box" role="alert">{w.missing.message}</div>
    {:else if !d.dirty}<Lacks />{/if}
    <div class="tab"><Tab /></div>
    <footer>
      {#if followers}
        <label class="keeps"
          >grade lines and notes keep
          <select class="select select-sm" bind:value={w.drawing.keeps}>
            {#each KEEPS as [id, says] (id)}<option value={id}>{worded(says)}</option>{/each}
          </select>
        </label>
      {/if}
      <div class="buttons">
        <button
          class="btn btn-primary btn-sm"
          disabled={!d.dirty || d.problem !== null || d.ips.length < 2}
          onclick={save}>Save the centreline</button
        >
        <button class="btn btn-sm" disabled={!d.dirty} onclick={() => d.putBack()}>Put it back</button>
      </div>
    </footer>
  </aside>
</div>

<style>
  .map {
    flex: 1;
    min-height: 0;
  }
  .section {
    flex: none;
    height: 210px;
  }
  aside {
    display: flex;
    flex-direction: column;
  }
  .tab {
    flex: 1;
    min-height: 140px;
    display: flex;
    flex-direction: column;
  }
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 12px;
    margin-bottom: 4px;
  }
  footer {
    flex: none;
    padding-top: 6px;
    border-top: 1px solid var(--color-base-300);
  }
  .buttons,
  .remedies {
    display: flex;
    gap: 6px;
    margin: 6px 0 0;
    flex-wrap: wrap;
  }
  .keeps {
    display: flex;
    align-items: center;
    gap: 8px;
  }
  .keeps select {
    flex: 1;
  }
  .empty {
    display: grid;
    place-content: center;
    height: 100%;
    padding: 0 20%;
    text-align: center;
    gap: 8px;
  }
  .failure-box,
  .advice-box {
    margin: 6px 0;
  }
  .advice-box ul {
    max-height: 96px;
    overflow-y: auto;
  }
  .link {
    text-decoration: underline;
    cursor: pointer;
  }
</style>
