<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { change, figure, unitOf } from '../../lib/units';
  import type { Ledger } from '../../api/client';
  import type { DimensionName } from '../../api/fields';
  import { chainage, percent, signedWhole, whole } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';

  const w = useWork();
  const s = $derived(w.jobs.job);
  const live = $derived(w.jobs.live);
  const found = $derived(s?.result?.offered ?? null);
  const present = $derived(w.ledger);
  const currency = $derived(w.project?.cost?.currency ?? '');
  // A result belongs to the inputs it was found under.
  const older = $derived(s !== null && w.project !== null && s.revision !== w.project.revision);

  const rows: [string, (l: Ledger) => number, DimensionName][] = [
    ['cost', (l) => l.cost, 'count'],
    ['cut', (l) => l.cut_m3, 'volume'],
    ['fill', (l) => l.fill_m3, 'volume'],
    ['haul', (l) => l.haul_m3_m, 'haul'],
    ['net', (l) => l.net_m3, 'volume'],
    ['borrow', (l) => l.borrow_m3, 'volume'],
    ['spoil', (l) => l.spoil_m3, 'volume'],
    ['topsoil', (l) => l.topsoil_m3, 'volume'],
    ['footprint', (l) => l.footprint_m2, 'area'],
    ['failures', (l) => l.failures, 'count'],
  ];
  const written = (dimension: DimensionName, value: number) =>
    dimension === 'count' ? whole(value) : figure(dimension, value);
  const over = (cost: number) => {
    if (typeof s?.lower_bound !== 'number') return '';
    if (s.lower_bound <= 0) return 'nothing above zero is proven';
    const times = cost / s.lower_bound;
    return times < 10 ? percent(times - 1, 2) : `${whole(times)} times it`;
  };

  const reasons = {
    fewer_ips: 'fewer IPs than the cheapest found',
    rounding: 'rounding to the metre',
    flattest_grade: 'flattest grade',
    curves_and_spacing: 'shortest curve and IP spacing',
    earth: 'switches in the section (drains, batters by height, walls), or earth moved for its own sake',
    unknown: 'not explained',
  };
  const parts = $derived((s?.result?.parts ?? []).filter((part) => part.share >= 0.00005));

  let refused = $state<string | null>(null);
  async function adopt(): Promise<void> {
    if (!found) return;
    const failed = await w.making.adopt('found', found.ips);
    if (failed) refused = failed;
    else {
      w.goToStep('line');
      w.notices.say('The found line is a grade line of its own now. Undo takes it away again.');
    }
  }
</script>

<h2>Search for the cheapest grade line</h2>
{#if w.line}
  <p>
    Looks for the line that costs least under the present limits, from tie-in to tie-in of “{w.line.name}”, and proves
    how much cheaper any line could be at most.
  </p>
{:else}
  <p>
    Looks for the line that costs least under the present limits and proves how much cheaper any line could be at most.
    It begins from a grade line, which this road has not yet.
  </p>
  <button class="btn btn-primary btn-sm" onclick={() => w.goToStep('line')}>Make a first line</button>
{/if}
<p class="faint">
  {worded('Lines keep grades, K of every kind, curves, spacing, tangents, depths, level controls and utilities')}, each
  where it holds. Not looked at: sight along the line, trucks, long grades, passing, drainage of curves, flattest in a
  cut.
</p>
<div class="buttons">
  <button class="btn btn-sm" class:btn-primary={w.line} disabled={live || !w.line} onclick={() => void w.startSearch()}
    >Search</button
  >
  {#if live}<button class="btn btn-sm" onclick={() => w.project && void w.jobs.stop(w.project.id)}
      >Stop and keep the best</button
    >{/if}
</div>
{#if w.jobs.refused}<div class="failure-box" role="alert">{w.jobs.refused}</div>{/if}
{#if s}
  {#if live}
    <p role="status">
      {s.stage}{s.ahead ? `, ${s.ahead} before it` : ''}, {s.seconds.toFixed(0)} s
    </p>
    <progress class="progress progress-primary" max="1" value={s.share} aria-label="Progress of the search"></progress>
  {:else if s.status === 'failed'}
    <div class="failure-box" role="alert">{s.message}</div>
  {:else}
    <p class="faint">{s.status === 'stopped' ? 'Stopped' : 'Finished'} after {s.seconds.toFixed(1)} s.</p>
  {/if}
  {#if s.lower_bound}
    <dl class="num">
      <dt>Lower bound, {currency}</dt>
      <dd>{whole(s.lower_bound)}</dd>
      {#if found}
        <dt>Found line, above the bound by</dt>
        <dd data-item="gap">{over(found.ledger.cost)}</dd>
      {/if}
      {#if present}
        <dt>Present line, above the bound by</dt>
        <dd>{over(present.cost)}</dd>
      {/if}
    </dl>
    <p class="faint">
      No line under these limits costs less than the bound, whatever its IPs. It leaves the flattest grade and the
      shortest tangent out, and knows shortest curves and spacing where they are loosest; the found line keeps them.
    </p>
  {/if}
  {#if found && present}
    <table class="sheet num" aria-label="Present and found line side by side">
      <thead>
        <tr><th scope="col">of it</th><th>present</th><th>found</th><th>change</th></tr>
      </thead>
      <tbody>
        <tr
          ><th scope="row">IPs</th><td>{w.ips.length - 2}</td><td>{found.ips.length - 2}</td><td
            >{signedWhole(found.ips.length - w.ips.length)}</td
          ></tr
        >
        {#each rows as [label, read, of] (label)}
          <tr>
            <th scope="row">{[label, of === 'count' ? '' : unitOf(of)].filter((part) => part).join(', ')}</th>
            <td>{written(of, read(present))}</td>
            <td>{written(of, read(found.ledger))}</td>
            <td
              >{of === 'count'
                ? signedWhole(read(found.ledger) - read(present))
                : change(of, read(found.ledger) - read(present))}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
    {#if !live && found.ledger.failures && found.ledger.worst_use}
      <p class="caution">
        The found line fails too: {worded(found.ledger.worst_use.name)} at {chainage(
          found.ledger.worst_use.chainage_m,
        )}{found.ledger.failures > 1 ? ` and ${found.ledger.failures - 1} more` : ''}. A search keeps limits and
        tie-ins; it does not keep batters within the survey.
      </p>
    {/if}
    {#if older}
      <p class="caution">
        The project was changed since this search. Its figures are of revision {s.revision}; search again to be sure.
      </p>
    {/if}
    {#if refused}<div class="failure-box" role="alert">{refused}</div>{/if}
    <button class="btn btn-primary btn-sm wide" disabled={live} onclick={() => void adopt()}
      >Adopt as a second grade line</button
    >
    {#if parts.length && !live}
      <h2>What the gap is made of</h2>
      <dl class="num parts" aria-label="What the gap is made of">
        {#each parts as { why, share } (why)}
          <dt>{reasons[why]}</dt>
          <dd>{percent(share, 2)}</dd>
        {/each}
      </dl>
      {#if parts.some((part) => part.why === 'unknown')}
        <p class="faint">What is not explained is looseness of the bound, or a line not found.</p>
      {/if}
    {/if}
    {#if s.result?.front.length}
      <h2>Fewer IPs, more cost</h2>
      <table class="sheet num" aria-label="Cost by number of IPs">
        <thead><tr><th>IPs</th><th>cost, {currency}</th><th>above bound</th></tr></thead>
        <tbody>
          {#each s.result.front.filter((_, i, all) => i % Math.ceil(all.length / 8) === 0) as { ips, cost } (ips)}
            <tr><td>{ips}</td><td>{whole(cost)}</td><td>{over(cost)}</td></tr>
          {/each}
        </tbody>
      </table>
    {/if}
  {/if}
{/if}

<style>
  .buttons {
    display: flex;
    gap: 6px;
    margin: 6px 0;
  }
  dl {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 2px 8px;
    margin: 8px 0 4px;
  }
  .parts {
    margin: 2px 0 6px;
    font-size: 12.5px;
  }
  .parts dd {
    font-weight: 400;
  }
  dd {
    font-weight: 700;
    text-align: right;
  }
  .wide {
    width: 100%;
    margin-top: 8px;
  }
  .sheet {
    font-size: 12.5px;
  }
  .sheet td,
  .sheet th {
    padding-left: 2px;
    padding-right: 2px;
    white-space: nowrap;
  }
  th[scope='row'] {
    text-align: left;
    position: static;
  }
</style>
