<script lang="ts">
  import { changeInput } from '../../lib/state/rows';
  import { forgetStandard, keepStandard, standardsKnown, valuesOffered } from '../../lib/state/asked';
  import type { Project, Schemas } from '../../api/client';
  import { INPUTS } from '../../api/fields';
  import { system, worded } from '../../lib/system.svelte';
  import { show, told, unitOf } from '../../lib/units';
  import { useWork } from '../../lib/state/work.svelte';

  // Limits that a published standard offers for a class of road in a kind of ground: offered, not taken.
  let { onclose }: { onclose: () => void } = $props();
  const w = useWork();
  interface Wish {
    standard: string;
    road_class: 'local' | 'collector' | 'arterial';
    terrain: 'level' | 'rolling' | 'mountainous';
    tier: 'least' | 'desirable';
  }
  const limits = $derived(w.project?.limits ?? null);
  let wish = $state<Wish>({
    standard: system() === 'metric' ? 'stopping' : 'stopping_us',
    road_class: 'collector',
    terrain: 'rolling',
    tier: 'least',
  });
  let offered = $state.raw<Schemas['Offered'][]>([]);
  let refused = $state<string | null>(null);
  const LISTS = [
    ['road_class', 'road', ['local', 'collector', 'arterial']],
    ['terrain', 'ground', ['level', 'rolling', 'mountainous']],
    ['tier', 'values', ['least', 'desirable']],
  ] as const;
  let families = $state.raw<Schemas['StandardOut'][]>([]);
  const of = $derived(families.find((s) => s.id === wish.standard));

  async function load(choose?: string): Promise<void> {
    families = await standardsKnown();
    if (choose) wish.standard = choose;
  }
  $effect(() => {
    load().catch((error: unknown) => w.notices.tell(error));
  });

  /** What waits for a second word, since it can't be undone: a file over a set of that name, or a set taken away. */
  let asking = $state.raw<{ name: string; text: string | null } | null>(null);

  /** A table of the office's own, by the name of its file. */
  async function bring(e: Event & { currentTarget: HTMLInputElement }): Promise<void> {
    const input = e.currentTarget;
    const file = input.files?.[0];
    if (!file) return;
    const name = file.name.replace(/\.[^.]*$/, '').slice(0, 60) || 'our own';
    const text = await file.text();
    input.value = '';
    if (families.some((s) => s.own && s.name === name)) asking = { name, text };
    else await keep(name, text);
  }

  async function keep(name: string, text: string): Promise<void> {
    refused = asking = null;
    try {
      await load(await keepStandard(name, text));
      w.notices.say(`“${name}” can be chosen in every project now.`);
    } catch (error) {
      refused = error instanceof Error ? error.message : String(error);
    }
  }

  async function forget(): Promise<void> {
    asking = null;
    try {
      await forgetStandard(wish.standard);
      await load(families.find((s) => !s.own)!.id);
    } catch (error) {
      w.notices.tell(error);
    }
  }

  $effect(() => {
    const speed = limits?.design_speed_kmh;
    if (speed === undefined) return;
    let mine = true;
    const { standard, ...road } = wish;
    valuesOffered(standard, { ...road, design_speed_kmh: speed })
      .then((values) => mine && (offered = values))
      .catch((error: unknown) => mine && w.notices.tell(error));
    return () => (mine = false);
  });

  const rows = $derived(
    offered.map((o) => {
      const field = INPUTS.limits.find((f) => f.name === o.field)!;
      const now = limits?.[o.field as keyof typeof limits] as number | null;
      return { ...o, field, now, same: now !== null && Math.abs(now - o.value) < 1e-9 };
    }),
  );

  /** Sources of limits that nothing is offered for. */
  const others = (project: Project) =>
    project.limits!.sources.filter((row) => !offered.some((o) => o.field === row.name));

  async function take(): Promise<void> {
    const values = {
      ...Object.fromEntries(offered.map((o) => [o.field, o.value])),
      ...(of?.form ? { stopping_form: of.form } : {}),
    };
    const sources = offered.map(({ field, value, formula, source, edition, from_memory }) => ({
      ...{ name: field, value, formula, source, from_memory, reason: '' },
      edition: edition || (source === of?.source ? of.edition : ''),
    }));
    const speed = limits!.design_speed_kmh;
    refused = await changeInput(w, 'limits', `the limits of ${told('speed', speed)}`, (now, project) => ({
      ...now,
      ...values,
      sources: [...sources, ...others(project)],
    }));
    if (refused === null) onclose();
  }
</script>

<div class="offer" role="group" aria-label="Starting values">
  <label
    >by <select class="select select-sm" bind:value={wish.standard}>
      {#each families as s (s.id)}<option value={s.id}>{s.name}</option>{/each}
    </select></label
  >
  {#each LISTS as [key, says, values] (key)}
    <label
      >{says}
      <select class="select select-sm" bind:value={wish[key]}>
        {#each values as value (value)}<option {value}>{value}</option>{/each}
      </select></label
    >
  {/each}
  <table class="sheet num">
    <thead><tr><th scope="col">limit</th><th scope="col">now</th><th scope="col">offered</th></tr></thead>
    <tbody>
      {#each rows as r (r.field.name)}
        <tr title={`${r.formula}. ${r.source}${r.from_memory ? ', from memory' : ''}`}>
          <th scope="row">{worded(r.field.label)}, {unitOf(r.field.dimension)}</th>
          <td>{r.now === null ? 'free' : show(r.field.dimension, r.now)}</td>
          <td class:other={!r.same}>{show(r.field.dimension, r.value)}</td>
        </tr>
      {/each}
    </tbody>
  </table>
  <details>
    <summary>Where each value comes from</summary>
    {#if of}
      <p class="faint">
        {[of.source, of.edition].filter((part) => part).join(', ')}.
        {of.own ? '' : 'Not compared with a printed copy: where one says otherwise, it holds.'}
      </p>
    {/if}
    <ul>
      {#each rows as r (r.field.name)}
        <li>
          <b>{worded(r.field.label)}</b>: {r.formula}; {r.source}{r.from_memory ? ', from memory' : ''}
        </li>
      {/each}
    </ul>
  </details>
  <div class="buttons">
    <button class="btn btn-sm btn-primary" disabled={!offered.length} onclick={() => void take()}
      >Take these limits</button
    >
    <button class="btn btn-sm" onclick={onclose}>Keep mine</button>
  </div>
  {#if refused}<p class="failure" role="alert">{refused}</p>{/if}
  {#if asking}
    {@const { name, text } = asking}
    <div class="advice-box" role="alert">
      {text === null
        ? `“${name}” goes from every project's list, and can't be brought back from here. Limits that were taken from it stay.`
        : `There is a set “${name}” already: its values are replaced. Limits that were taken from it stay.`}
      <div class="buttons">
        <button class="btn btn-xs" onclick={() => void (text === null ? forget() : keep(name, text))}
          >{text === null ? 'Take it away' : 'Replace it'}</button
        >
        <button class="btn btn-xs" onclick={() => (asking = null)}>Leave it</button>
      </div>
    </div>
  {/if}
  <details>
    <summary>A set of our own</summary>
    <p class="faint">
      A text table with a line of headings: limit, value, and as wished speed, class, terrain, tier, formula, source,
      edition. It can be chosen in every project then; a file of the same name replaces it.
    </p>
    <input
      class="file-input file-input-sm"
      type="file"
      accept=".csv,.txt,.tsv"
      aria-label="A set of our own"
      onchange={bring}
    />
    <div class="buttons">
      <a class="btn btn-xs" href={`/api/standards/${wish.standard}/file`} download>This one as a file</a>
      {#if of?.own}
        <button class="btn btn-xs" onclick={() => (asking = { name: of.name, text: null })}
          >Take “{of.name}” away…</button
        >
      {/if}
    </div>
  </details>
</div>

<style>
  .offer {
    border-left: 4px solid var(--ink-caution);
    padding: 6px 8px;
    margin: 6px 0;
  }
  label {
    display: grid;
    grid-template-columns: 60px minmax(0, 1fr);
    align-items: center;
    min-height: 28px;
  }
  .select {
    height: 26px;
  }
  table {
    margin: 6px 0;
  }
  .other {
    font-weight: 700;
  }
  ul {
    font-size: 12.5px;
  }
  .buttons {
    display: flex;
    gap: 6px;
    margin-top: 6px;
  }
</style>
