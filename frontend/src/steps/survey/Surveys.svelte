<script lang="ts">
  import { removeSurvey } from '../../lib/state/roads';
  import { surveySummary } from '../../lib/state/asked';
  import { worded } from '../../lib/system.svelte';
  import { figure, told } from '../../lib/units';
  import type { Schemas } from '../../api/client';
  import { whole } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';
  import Compare from './Compare.svelte';
  import Summary from './Summary.svelte';

  // The surveys that the ground is made of, each with what was said of it, and the ground itself.
  const w = useWork();
  const surveys = $derived(w.project?.surveys ?? []);
  const facts = $derived(w.land.facts?.of ?? null);
  const areas = $derived(w.land.areas?.key === w.project?.land_key ? (w.land.areas?.of ?? null) : null);
  let said = $state.raw<Record<string, Schemas['ImportSummary'] | null>>({});
  let problem = $state<string | null>(null);
  let looked = $state(false);
  $effect(() => {
    if (looked && facts) w.land.askAreas();
  });

  const HOW = { alone: '', adds: 'beside the others', replaces: 'in the place of older ground' };

  async function open(e: Event, slot: string): Promise<void> {
    const p = w.project;
    if (!p || !(e.currentTarget as HTMLDetailsElement).open || slot in said) return;
    try {
      const found = await surveySummary(p.id, slot, p.revision);
      said = { ...said, [slot]: found };
    } catch (error) {
      w.notices.tell(error);
    }
  }

  async function remove(slot: string, name: string): Promise<void> {
    problem = await removeSurvey(w, slot, name);
  }
</script>

{#each surveys as s (s.slot + s.file_sha256)}
  <details ontoggle={(e) => void open(e, s.slot)}>
    <summary>{s.file_name}, {whole(s.point_count)} points</summary>
    {#if HOW[s.joins]}<p class="faint">{HOW[s.joins]}</p>{/if}
    {#if s.within_m !== null}<p class="faint">only within {told('size', s.within_m)} of the centreline</p>{/if}
    {#if s.thinned_m !== null}<p class="faint">thinned to {told('size', s.thinned_m)}</p>{/if}
    {#if said[s.slot]}
      <Summary summary={said[s.slot]!} />
    {:else}
      <p class="faint">
        {s.breakline_count} breaklines, {s.left_out} lines not read, longest edge {told('about', s.longest_edge_m)}
      </p>
    {/if}
    <div class="buttons">
      {#if s.upload_id !== null}
        <button
          class="btn btn-sm"
          disabled={w.intake.live}
          onclick={() => w.project && void w.intake.again(w.project.id, s, surveys.length > 1)}
          >Read the file once more</button
        >
      {/if}
      <button class="btn btn-sm" disabled={w.store.saving} onclick={() => void remove(s.slot, s.file_name)}
        >Take the survey out</button
      >
    </div>
  </details>
{/each}
{#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
{#if surveys.length && w.project}
  <a class="btn btn-xs" href={`/api/projects/${w.project.id}/files/ground?revision=${w.project.revision}`} download
    >Ground as LandXML</a
  >
{/if}
{#if surveys.length && facts}
  <details bind:open={looked}>
    <summary>The ground they make</summary>
    <dl class="num facts">
      <dt>triangles</dt>
      <dd>{whole(facts.triangles)}</dd>
      <dt>{worded('levels')}</dt>
      <dd>{figure('level', facts.box_m[2]!, 2)} to {told('level', facts.box_m[5]!, 2)}</dd>
      {#if areas}
        <dt>land in plan</dt>
        <dd>{told('area', areas.plan_area_m2)}</dd>
        <dt>along its slopes</dt>
        <dd>{told('area', areas.surface_area_m2)}</dd>
      {/if}
    </dl>
    <Compare />
  </details>
{/if}

<style>
  summary {
    cursor: pointer;
    overflow-wrap: anywhere;
    min-height: 24px;
  }
  .buttons {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    margin: 4px 0;
  }
</style>
