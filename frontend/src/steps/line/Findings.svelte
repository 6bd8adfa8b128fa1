<script lang="ts">
  import type { Edit, Finding } from '../../api/client';
  import { signedWhole } from '../../lib/format';
  import { changeInput, changeRows } from '../../lib/state/rows';
  import { sameCase } from '../../lib/state/figures.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';

  // All that the checks say, the worst first: failures, what is kept by a hair, advice; each with what would mend it.
  /** At most so many of each, where there is little room. */
  let { most = 100 }: { most?: number } = $props();
  const w = useWork();
  const of = (bad: Finding['bad']) => w.findings.filter((u) => u.bad === bad);
  const nearly = $derived(w.shownFigures?.products.uses?.nearly ?? []);
  const groups = $derived([
    { bad: 'fails', title: 'Fails', rows: of('fails') },
    { bad: 'nearly', title: 'Kept by a hair', rows: nearly },
    { bad: 'advice', title: 'Advice', rows: of('advice') },
  ] as const);
  const remedies = $derived(
    sameCase(w.figures.after?.of ?? null, w.case) ? (w.figures.after!.products.remedies ?? []) : [],
  );
  const spaced = $derived(sameCase(w.figures.after?.of ?? null, w.case));
  const hidden = $derived(w.figures.after?.products.space?.hidden ?? []);
  const clashes = $derived(w.figures.after?.products.clashes ?? []);
  /** What else could be built there, where another line would not help. */
  const site = $derived(spaced ? (w.figures.after!.products.site ?? []) : []);
  const siteOf = (u: Finding) =>
    site.filter((s) => s.check === u.check && Math.abs(s.from_chainage_m - u.from_chainage_m) < 0.01);
  type SiteWay = (typeof site)[number];
  function build(way: SiteWay): void {
    const step = { survey: 'survey', centreline: 'centreline' }[way.into] ?? 'along';
    if (!way.row) return w.goToStep(step);
    const put = way.row;
    if (way.into === 'works') w.act(changeInput(w, 'works', way.label, (now) => ({ ...now, ...put })));
    const kind = ({ changes: 'along.changes', lanes: 'along.lanes', reserve: 'reserve' } as const)[way.into];
    if (kind) w.act(changeRows<object>(w, kind, way.label, (rows) => [...rows, way.row!]));
  }
  const keyOf = (u: Finding) => `${u.check} ${u.ip} ${u.from_chainage_m} ${u.about}`;
  // In every step that lists findings, whatever tracks it shows.
  $effect(() => {
    w.selection.want('findings', ['space', 'site']);
    return () => w.selection.want('findings', []);
  });
  let open = $state<string | null>(null);
  let whole = $state(false);
  let advising = $state(false);

  function pick(u: Finding): void {
    open = open === keyOf(u) ? null : keyOf(u);
    w.goTo(u);
  }
</script>

{#snippet pastBends()}
  {#if hidden.length}
    <h2>Sight past bends <span class="faint">{hidden.length}{spaced ? '' : ', on its way'}</span></h2>
    <ul class={hidden[0]!.bad} class:behind={!spaced} aria-label="Sight past bends">
      {#each hidden.slice(0, whole ? undefined : most) as h (`${h.way} ${h.from_m}`)}
        <li>
          <button class="finding" onclick={() => (w.selection.axes.reveal(h.at_m), w.selection.setPlumb(h.at_m))}
            >{h.sentence}</button
          >
        </li>
      {/each}
    </ul>
  {/if}
{/snippet}

{#snippet impossible(title: string, rows: typeof clashes)}
  <h2>{title}</h2>
  <ul class="fails" aria-label={title}>
    {#each rows as c, i (i)}
      <li>
        <button class="finding" onclick={() => (w.selection.axes.reveal(c.from_m), w.selection.setPlumb(c.from_m))}
          >{c.sentence}</button
        >
      </li>
    {/each}
  </ul>
{/snippet}
{#if clashes.some((c) => c.proven)}{@render impossible(
    'No line can keep',
    clashes.filter((c) => c.proven),
  )}{/if}
{#if clashes.some((c) => !c.proven)}{@render impossible(
    'No tangent can keep',
    clashes.filter((c) => !c.proven),
  )}{/if}
{#each groups as { bad, title, rows } (bad)}
  {#if rows.length}
    <h2>
      {title} <span class="faint">{rows.length}</span>
      {#if bad === 'advice'}
        <button class="btn btn-xs" aria-expanded={advising} onclick={() => (advising = !advising)}
          >{advising ? 'Fold' : 'Show'}</button
        >
      {/if}
    </h2>
    {#if bad !== 'advice' || advising}
      <ul class={bad} aria-label={title}>
        {#each rows.slice(0, whole ? undefined : most) as u, i (i)}
          {@const ways = u.bad === 'nearly' ? [] : remedies.filter((r) => r.ip === u.ip && r.checks.includes(u.check))}
          {@const there = u.bad === 'nearly' ? [] : siteOf(u)}
          {@const count = ways.length + there.length}
          <li class:open={open === keyOf(u)}>
            <button class="finding" onclick={() => pick(u)} title={u.sentence}
              ><b>{worded(u.name)}</b>{#if count}<span class="faint num"
                  >{count === 1 ? '1 way' : `${count} ways`} to mend</span
                >{/if}<br />{u.sentence}</button
            >
            {#if open === keyOf(u)}
              {#each there as s (s.label)}
                <button class="btn btn-xs remedy" onclick={() => build(s)}>
                  <span>{s.label}</span>{#if s.cost_change !== null}<span class="num"
                      >about {signedWhole(s.cost_change)} {w.project?.cost?.currency}</span
                    >{/if}
                </button>
              {/each}
              {#each ways as r, k (k)}
                <button class="btn btn-xs remedy" onclick={() => w.act(w.apply(r.edit as unknown as Edit))}>
                  <span
                    >{r.label}{#each r.breaks.slice(0, 2) as what (what)}<span class="failure breaks"
                        >✕ breaks {what}</span
                      >{/each}{#if r.breaks.length > 2}<span class="failure breaks">and {r.breaks.length - 2} more</span
                      >{/if}</span
                  ><span class="num">{signedWhole(r.cost_change)} {w.project?.cost?.currency}</span>
                </button>
              {/each}
            {/if}
          </li>
        {/each}
        {#if rows.length > most && !whole}
          <li><button class="finding" onclick={() => (whole = true)}>and {rows.length - most} more</button></li>
        {/if}
      </ul>
    {/if}
  {:else if bad === 'fails' && w.shownFigures}
    <p>Nothing fails on “{w.line?.name ?? ''}”.</p>
  {/if}
  {#if bad === (hidden[0]?.bad === 'fails' ? 'fails' : 'nearly')}{@render pastBends()}{/if}
{/each}

<style>
  .breaks {
    display: block;
  }
  h2 {
    margin: 8px 0 2px;
    font-size: 13px;
    font-weight: 700;
  }
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
  }
  li {
    border-left: 4px solid;
    margin: 3px 0;
    padding: 2px 0 2px 8px;
  }
  .fails li {
    border-color: var(--ink-failure);
    background: color-mix(in srgb, var(--ink-failure) 7%, transparent);
  }
  .nearly li,
  .advice li {
    border-color: var(--ink-caution);
  }
  .advice li {
    border-left-style: dotted;
  }
  .finding {
    display: block;
    width: 100%;
    text-align: left;
    font-size: 12.5px;
    line-height: 1.35;
    cursor: pointer;
  }
  .finding span {
    float: right;
    padding-right: 4px;
    font-size: 12px;
  }
  .behind {
    opacity: 0.45;
  }
  .remedy {
    display: flex;
    width: 100%;
    height: auto;
    min-height: 24px;
    padding: 3px 8px;
    gap: 8px;
    line-height: 1.25;
    text-align: left;
    justify-content: space-between;
    margin-top: 3px;
  }
  p {
    margin: 6px 0;
  }
</style>
