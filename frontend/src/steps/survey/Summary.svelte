<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { fixed, whole } from '../../lib/format';

  // What was read of a file, what was not and why, and the ground it is part of.
  let { summary: s }: { summary: Schemas['ImportSummary'] } = $props();
</script>

<dl class="num">
  <dt>points</dt>
  <dd data-item="read">{whole(s.points)}{s.of_points > s.points ? ` of ${whole(s.of_points)}` : ''}</dd>
  <dt>breaklines</dt>
  <dd>{s.breaklines}</dd>
  <dt>lines not read</dt>
  <dd class:failure={s.error_count > 0}>{s.error_count}</dd>
  {#if s.box}
    <dt>eastings</dt>
    <dd>{fixed(s.box[0]!, 1)} to {fixed(s.box[3]!, 1)}</dd>
    <dt>northings</dt>
    <dd>{fixed(s.box[1]!, 1)} to {fixed(s.box[4]!, 1)}</dd>
    <dt>levels</dt>
    <dd>{fixed(s.box[2]!, 2)} to {fixed(s.box[5]!, 2)}</dd>
  {/if}
  {#if typeof s.thinned_m === 'number'}
    <dt>thinned to</dt>
    <dd>{s.thinned_m} m; worst {fixed(1000 * (s.off_m ?? 0), 1)} mm</dd>
  {/if}
  <dt>longest edge</dt>
  <dd>{s.longest_edge_m ? `${fixed(s.longest_edge_m, 0)} m` : 'free'}</dd>
  <dt>ground, all surveys</dt>
  <dd>{whole(s.plan_area_m2)} m²</dd>
  <dt>points a m²</dt>
  <dd>{s.points_per_m2.toPrecision(2)}</dd>
  <dt>took</dt>
  <dd>{fixed(s.seconds, 1)} s</dd>
</dl>
{#if s.codes.length}<p class="faint">codes: {s.codes.map((c) => `${c.code} ${whole(c.count)}`).join(', ')}</p>{/if}
{#each s.doubts as doubt (doubt)}<p class="caution">{doubt}</p>{/each}
{#if s.errors.length}
  <div class="errors">
    {#each s.errors as e (e.line)}<p class="failure">{e.message}</p>{/each}
    {#if s.error_count > s.errors.length}<p class="faint">and {s.error_count - s.errors.length} more</p>{/if}
  </div>
{/if}

<style>
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 2px 10px;
    margin: 6px 0;
  }
  dd {
    text-align: right;
    overflow-wrap: anywhere;
  }
  .errors {
    max-height: 150px;
    overflow: auto;
    margin: 4px 0;
  }
  .caution {
    border-left: 4px solid var(--ink-caution);
    padding: 4px 8px;
    margin: 4px 0;
  }
</style>
