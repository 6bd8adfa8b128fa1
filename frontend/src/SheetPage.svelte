<script lang="ts">
  import { projectAsked, sheetPages } from './lib/state/asked';
  import { onMount } from 'svelte';
  import type { Project } from './api/client';
  import { PAPERS, SHEETS, type SheetName } from './api/fields';
  import { addressOf, sheetAddress } from './lib/address';
  import Field from './lib/fields/Field.svelte';
  import { writeBy } from './lib/stations.svelte';
  import { openIn, system, worded } from './lib/system.svelte';
  import { show, told, usualInterval } from './lib/units';

  // A line's long section, or its sections, on paper: looked at page by page, and taken as PDF, DXF or SVG.
  let { id, slot, sheet }: { id: number; slot: string; sheet: SheetName } = $props();
  const kind = $derived(SHEETS.find((s) => s.name === sheet)!);
  let project = $state.raw<Project | null>(null);
  let pages = $state.raw<string[]>([]);
  let failed = $state<string | null>(null);
  let paper = $state<(typeof PAPERS)[number]>('A3');
  let scales = $state.raw<Partial<Record<SheetName, number>>>({});
  let heights = $state(10);
  let interval = $state.raw<number | null>(null);
  let from = $state.raw<number | null>(null);
  let to = $state.raw<number | null>(null);
  let page = $state(1);
  const line = $derived(project?.lines.find((l) => l.slot === slot) ?? null);
  const scale = $derived(scales[sheet] ?? kind.scale);
  const wish = $derived({
    revision: project?.revision ?? 0,
    slot,
    from_m: from ?? undefined,
    to_m: to ?? undefined,
    interval_m: interval ?? (kind.exaggerated ? usualInterval() : undefined),
    paper,
    scale,
    exaggeration: heights,
    units: system(),
  });
  const base = $derived(`/api/projects/${id}/sheets/${sheet}`);
  const query = (more: Record<string, string | number>) => {
    const given = Object.entries({ ...wish, ...more }).filter(([, v]) => v !== undefined);
    return new URLSearchParams(given.map(([k, v]) => [k, String(v)])).toString();
  };

  onMount(async () => {
    try {
      project = await projectAsked(id);
      openIn(project.practice?.system);
      writeBy((project.equations?.rows ?? []).filter((row) => row.road === line?.road));
    } catch (error) {
      failed = error instanceof Error ? error.message : String(error);
    }
  });

  $effect(() => {
    if (!project) return;
    let mine = true;
    sheetPages(id, sheet, wish)
      .then((found) => mine && ([pages, failed, page] = [found, null, Math.min(page, found.length)]))
      .catch((error: unknown) => {
        if (mine) [pages, failed] = [[], error instanceof Error ? error.message : String(error)];
      });
    return () => (mine = false);
  });

  /** A number within its bounds. */
  const within =
    (low: number, high: number, take: (v: number) => void, shown: (v: number) => string) => (v: unknown) => {
      if (!(typeof v === 'number' && v >= low && v <= high)) return `From ${shown(low)} to ${shown(high)}.`;
      take(v);
      return null;
    };
</script>

<svelte:window
  onkeydown={(e) => {
    if (e.target instanceof HTMLInputElement || e.target instanceof HTMLSelectElement) return;
    if (e.key === 'ArrowRight' || e.key === 'PageDown') page = Math.min(page + 1, pages.length);
    if (e.key === 'ArrowLeft' || e.key === 'PageUp') page = Math.max(page - 1, 1);
  }}
/>
<main>
  <aside>
    <a class="btn btn-sm" href={addressOf(id, 'line', slot)}>Back to the design</a>
    <h1>On paper: {line ? `“${line.name}”` : ''}</h1>
    <div class="join" role="tablist" aria-label="Sheet">
      {#each SHEETS as s (s.name)}
        <a
          class="btn btn-xs join-item"
          class:btn-primary={s.name === sheet}
          role="tab"
          aria-selected={s.name === sheet}
          href={sheetAddress(id, s.name, slot)}>{s.title}</a
        >
      {/each}
    </div>
    <div class="row">
      <label for="sheet-paper">paper</label>
      <select id="sheet-paper" class="select select-sm" bind:value={paper}>
        {#each PAPERS as p (p)}<option value={p}>{p}</option>{/each}
      </select>
      <span class="faint">on its long side</span>
    </div>
    <Field
      id="sheet-scale"
      label="scale, 1 :"
      value={scale}
      dimension="count"
      aside={system() === 'metric' ? '' : '1 in = scale / 12 ft'}
      take={within(20, 100_000, (v) => (scales = { ...scales, [sheet]: v }), String)}
    />
    {#if kind.exaggerated}
      <Field
        id="sheet-heights"
        label="heights ×"
        value={heights}
        dimension="factor"
        take={within(0.1, 200, (v) => (heights = v), String)}
      />
    {/if}
    <Field
      id="sheet-interval"
      label={kind.exaggerated ? 'figures each' : 'sections each'}
      value={interval}
      dimension="size"
      optional
      free={kind.exaggerated ? show('size', usualInterval()) : 'as reported'}
      take={(v) => {
        if (typeof v === 'number' && (v < 1 || v > 10_000)) {
          return `From ${told('size', 1)} to ${told('size', 10_000)}.`;
        }
        interval = typeof v === 'number' ? v : null;
        return null;
      }}
    />
    <Field
      id="sheet-from"
      label="from"
      value={from}
      dimension="chainage"
      optional
      free="the start"
      take={(v) => {
        from = typeof v === 'number' ? v : null;
        return null;
      }}
    />
    <Field
      id="sheet-to"
      label="to"
      value={to}
      dimension="chainage"
      optional
      free="the end"
      take={(v) => {
        to = typeof v === 'number' ? v : null;
        return null;
      }}
    />
    {#if failed}<div class="failure-box" role="alert">{failed}</div>{/if}
    {#if pages.length}
      <p><b>{pages.length === 1 ? 'One page' : `${pages.length} pages`}</b></p>
      <div class="buttons">
        <a class="btn btn-sm btn-primary" href={`${base}/file?${query({ form: 'pdf' })}`} download>PDF</a>
        <a class="btn btn-sm" href={`${base}/file?${query({ form: 'dxf' })}`} download>DXF</a>
        <a class="btn btn-sm" href={`${base}/file?${query({ form: 'svg' })}`} download>SVG</a>
      </div>
      <p class="faint">
        {worded('A DXF has its pages side by side in millimetres, a layer for each kind of thing.')}
      </p>
    {/if}
  </aside>
  <section aria-label="Page">
    {#if pages.length}
      <nav>
        <button class="btn btn-xs" disabled={page <= 1} onclick={() => (page -= 1)} aria-label="Page before">←</button>
        <span class="num">{page} of {pages.length}: {pages[page - 1]}</span>
        <button class="btn btn-xs" disabled={page >= pages.length} onclick={() => (page += 1)} aria-label="Next page"
          >→</button
        >
      </nav>
      <img alt={`Page ${page}: ${kind.title}, ${pages[page - 1]}`} src={`${base}/page?${query({ page })}`} />
    {:else if !failed}<p class="faint">Drawing…</p>{/if}
  </section>
</main>

<style>
  main {
    display: grid;
    grid-template-columns: 300px minmax(0, 1fr);
    height: 100%;
  }
  aside {
    padding: 12px;
    overflow: auto;
    background: var(--color-base-100);
    border-right: 1px solid var(--color-base-300);
    --label-width: 92px;
  }
  h1 {
    margin: 10px 0 6px;
    font-size: 16px;
    font-weight: 700;
  }
  .join {
    margin-bottom: 8px;
  }
  .row {
    display: grid;
    grid-template-columns: var(--label-width) 1fr auto;
    align-items: center;
    gap: 0 6px;
    min-height: 28px;
  }
  .buttons,
  nav {
    display: flex;
    gap: 8px;
    align-items: center;
    margin: 6px 0;
  }
  section {
    display: flex;
    flex-direction: column;
    min-height: 0;
    padding: 6px 12px 12px;
  }
  img {
    flex: 1;
    min-height: 0;
    object-fit: contain;
    object-position: top;
    filter: drop-shadow(0 1px 4px rgb(0 0 0 / 0.25));
  }
</style>
