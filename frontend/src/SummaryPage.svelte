<script lang="ts">
  import { projectAsked, summaryOf } from './lib/state/asked';
  import { onMount } from 'svelte';
  import type { Project, Schemas } from './api/client';
  import { chainage, fixed } from './lib/format';
  import { openIn, system, worded } from './lib/system.svelte';
  import { told } from './lib/units';
  import { addressOf } from './lib/address';
  import TableRows from './lib/TableRows.svelte';

  // What a checker signs: every check with its worst use, every value with its source; to be printed.
  let { id, slot }: { id: number; slot: string } = $props();
  let project = $state.raw<Project | null>(null);
  let found = $state.raw<Schemas['ChecksSummary'] | null>(null);
  let failed = $state<string | null>(null);
  const line = $derived(project?.lines.find((l) => l.slot === slot) ?? null);
  const road = $derived(project?.centrelines.find((c) => c.slot === line?.road) ?? null);
  const bad = $derived(found?.checks.filter((c) => c.verdict === 'fails').length ?? 0);
  const MARKS = { fails: '✕ fails', advice: 'advice', kept: '✓ kept', 'nothing to check': '–' } as const;

  onMount(async () => {
    try {
      project = await projectAsked(id);
      openIn(project.practice?.system);
      found = await summaryOf(id, slot, project.revision);
    } catch (error) {
      failed = error instanceof Error ? error.message : String(error);
    }
  });
</script>

<main>
  <nav>
    <a class="btn btn-sm" href={addressOf(id, 'limits', slot)}>Back to the design</a>
    <button class="btn btn-sm btn-primary" onclick={() => window.print()}>Print</button>
    <a
      class="btn btn-sm"
      href={`/api/projects/${id}/centreline/tables/checks/file?revision=${project?.revision ?? 0}&form=xlsx&slot=${slot}&units=${system()}`}
      download>XLSX</a
    >
  </nav>
  {#if failed}<p class="failure" role="alert">{failed}</p>{/if}
  {#if project && line && found}
    <header>
      <h1>Checks of “{line.name}”</h1>
      <p>
        {project.name}, {road?.name ?? ''}; revision {project.revision}{#if project.history.newest[0]}{@const last =
            project.history.newest[0]}, saved {last.created_at.slice(0, 16).replace('T', ' ')} UTC{last.author
            ? ` by ${last.author}`
            : ''}{/if}; the line is {line.status}.
      </p>
      <p class:failure={bad > 0}>
        <b
          >{bad
            ? `${bad} of ${found.checks.length} checks fail.`
            : `Nothing fails in ${found.checks.length} checks.`}</b
        >
      </p>
      {#each found.clashes as c, k (k)}<p class="failure">
          {c.proven ? 'No line can keep' : 'No tangent can keep'}: {c.sentence}
        </p>{/each}
    </header>
    <table class="sheet" aria-label="Checks">
      <thead>
        <tr>
          {#each ['check', 'verdict', 'use', 'value', 'limit', 'where', 'source of what is allowed'] as head, k (k)}<th
              scope="col">{head}</th
            >{/each}
        </tr>
      </thead>
      <tbody>
        {#each found.checks as c, k (k)}
          <tr class={c.verdict === 'fails' ? 'bad' : ''}>
            <th scope="row">{worded(c.name)}</th>
            <td class="words"
              >{c.verdict === 'kept' && !c.limit ? '✓ none' : MARKS[c.verdict]}{c.fails > 1 ? ` × ${c.fails}` : ''}</td
            >
            <td>{c.use === null ? '' : `${fixed(100 * c.use, 0)} %`}</td>
            <td>{c.value}</td>
            <td>{c.limit}</td>
            <td class="words">{[c.says, c.where].filter((part) => part).join(', ')}</td>
            <td class="words">{c.source}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#if found.controls.length}
      <h2>{worded('Level controls')}</h2>
      <table class="sheet" aria-label={worded('Level controls')}>
        <thead>
          <tr>
            {#each ['control', 'why', 'at', 'line', 'limit', 'to spare'] as head (head)}<th scope="col"
                >{worded(head)}</th
              >{/each}
          </tr>
        </thead>
        <tbody>
          {#each found.controls as c, k (k)}
            <tr class={c.slack_m !== null && c.slack_m < -0.0011 ? 'bad' : ''}>
              <th scope="row">{c.what}</th>
              <td class="words">{c.reason || 'no reason given'}</td>
              {#if c.slack_m !== null && c.at_m !== null && c.level_m !== null && c.limit_m !== null}
                <td>{chainage(c.at_m, 0)}</td>
                <td>{told('level', c.level_m)}</td>
                <td>{told('level', c.limit_m)}</td>
                <td>{told('length', c.slack_m)}</td>
              {:else}<td colspan="4" class="words">not checked: no line there, or nothing to measure it from</td>{/if}
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    {#each found.tables as table (table.title)}
      {#if table.count}
        <h2 class="of">{table.title}</h2>
        <div class="of"><TableRows shown={table} label={table.title} /></div>
      {/if}
    {/each}
    <h2>Every value and its source</h2>
    <table class="sheet" aria-label="Values">
      <thead
        ><tr><th scope="col">value</th><th scope="col">holds</th><th scope="col">is</th><th scope="col">source</th></tr
        ></thead
      >
      <tbody>
        {#each found.values as v, k (k)}
          <tr>
            <th scope="row">{v.name}</th>
            <td class="words">{v.holds}</td>
            <td>{v.value}</td>
            <td class="words">{v.source}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <div class="signed">
      {#each ['designed by, date', 'checked by, date'] as who (who)}<div>{who}</div>{/each}
    </div>
  {:else if !failed}<p>Working it out…</p>{/if}
</main>

<style>
  main {
    max-width: 1120px;
    height: 100%;
    margin: 0 auto;
    padding: 16px 24px;
    overflow: auto;
    background: var(--ink-paper);
  }
  nav {
    display: flex;
    gap: 8px;
    margin-bottom: 12px;
  }
  h1 {
    font-size: 20px;
    font-weight: 700;
  }
  h2 {
    margin: 18px 0 4px;
  }
  h2.of::first-letter {
    text-transform: uppercase;
  }
  div.of {
    overflow-x: auto;
    --widest-words: 420px;
  }
  header {
    margin-bottom: 10px;
  }
  table {
    font-size: 12.5px;
  }
  th[scope='row'] {
    text-align: left;
  }
  td {
    text-align: right;
    white-space: nowrap;
    vertical-align: top;
  }
  .words {
    text-align: left;
    white-space: normal;
  }
  thead th {
    position: static;
    text-align: left;
  }
  .bad th,
  .bad td {
    background: color-mix(in srgb, var(--ink-failure) 8%, transparent);
  }
  .signed {
    display: flex;
    gap: 40px;
    margin: 48px 0 24px;
  }
  .signed div {
    flex: 1;
    border-top: 1px solid currentColor;
    padding-top: 2px;
    font-size: 12px;
  }
  @media print {
    nav {
      display: none;
    }
    main {
      max-width: none;
      height: auto;
      padding: 0;
      overflow: visible;
    }
    tr {
      break-inside: avoid;
    }
  }
</style>
