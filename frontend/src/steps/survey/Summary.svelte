<script lang="ts">
  import { factorOf, told, unitOf } from '../../lib/units';
  import type { Schemas } from '../../api/client';
  import { fixed, whole } from '../../lib/format';

  import Extent from './Extent.svelte';
  import NotRead from './NotRead.svelte';

  // What was read of a file, what was not and why, and the ground it is part of.
  let { summary: s }: { summary: Schemas['ImportSummary'] } = $props();
</script>

<dl class="num facts">
  <dt>points</dt>
  <dd data-item="read">{whole(s.points)}{s.of_points > s.points ? ` of ${whole(s.of_points)}` : ''}</dd>
  <dt>breaklines</dt>
  <dd>{s.breaklines}</dd>
  <dt>lines not read</dt>
  <dd class:failure={s.error_count > 0}>{s.error_count}</dd>
  <Extent box={s.box} />
  {#if typeof s.thinned_m === 'number'}
    <dt>thinned to</dt>
    <dd>{told('size', s.thinned_m)}; worst {told('plan', s.off_m ?? 0)}</dd>
  {/if}
  <dt>longest edge</dt>
  <dd>{s.longest_edge_m ? told('about', s.longest_edge_m) : 'free'}</dd>
  <dt>ground, all surveys</dt>
  <dd>{told('area', s.plan_area_m2)}</dd>
  <dt>points a {unitOf('area')}</dt>
  <dd>{(s.points_per_m2 / factorOf('area')).toPrecision(2)}</dd>
  <dt>took</dt>
  <dd>{fixed(s.seconds, 1)} s</dd>
</dl>
{#if s.codes.length}<p class="faint">codes: {s.codes.map((c) => `${c.code} ${whole(c.count)}`).join(', ')}</p>{/if}
{#each s.doubts as doubt (doubt)}<p class="caution">{doubt}</p>{/each}
<NotRead errors={s.errors} count={s.error_count} />
