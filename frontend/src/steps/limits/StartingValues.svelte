<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client';
  import { INPUTS, STANDARDS } from '../../api/fields';
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
  const of = $derived(STANDARDS.find((s) => s.id === wish.standard)!);

  $effect(() => {
    const speed = limits?.design_speed_kmh;
    if (speed === undefined) return;
    let mine = true;
    ask(api.GET('/api/limits/offered', { params: { query: { ...wish, design_speed_kmh: speed } } }))
      .then(({ values }) => mine && (offered = values))
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

  async function take(): Promise<void> {
    const values = Object.fromEntries(offered.map((o) => [o.field, o.value]));
    const speed = limits!.design_speed_kmh;
    refused = await w.save({
      what: `the limits of ${told('speed', speed)}`,
      send: ({ path, base, token, project }) =>
        ask(
          api.PUT('/api/projects/{project_id}/limits', {
            params: { path },
            body: { base, token, limits: { ...project.limits!, ...values } },
          }),
        ),
    });
    if (refused === null) onclose();
  }
</script>

<div class="offer" role="group" aria-label="Starting values">
  <label
    >by <select class="select select-sm" bind:value={wish.standard}>
      {#each STANDARDS as s (s.id)}<option value={s.id}>{s.name}</option>{/each}
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
    <thead><tr><th scope="col"></th><th scope="col">now</th><th scope="col">offered</th></tr></thead>
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
    <p class="faint">{of.source}, {of.edition}. No book was at hand: where a real copy says otherwise, it holds.</p>
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
  {#if refused}<p class="failure">{refused}</p>{/if}
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
