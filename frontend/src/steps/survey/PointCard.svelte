<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { figure, told } from '../../lib/units';
  import Field from '../../lib/fields/Field.svelte';
  import { rowsOf } from '../../lib/state/hand.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // The surveyed point in hand, and what can be done with it.
  const w = useWork();
  let note = $state('');
  let problem = $state<string | null>(null);
  const p = $derived(w.hand.point);
  const place = $derived(
    p ? ([p.point_easting_m!, p.point_northing_m!, p.point_level_m!] as [number, number, number]) : null,
  );

  async function make(what: 'exclude' | 'keep' | 'level', instead: number | null = null): Promise<string | null> {
    if (!place) return null;
    problem = await w.hand.change(rowsOf(what, [place], instead), note, 'the change of the point');
    if (!problem) {
      w.hand.point = null;
      note = '';
    }
    return problem;
  }
</script>

{#if p && place}
  <div class="card" data-item="point">
    <h2>Point {p.point_name || `in row ${p.point_row! + 1}`}{p.point_code ? `, ${p.point_code}` : ''}</h2>
    <p class="num">
      E {figure('plan', place[0])} N {figure('plan', place[1])} <b>{worded('level')} {told('level', place[2])}</b>
    </p>
    <label>why <input class="field" maxlength="200" bind:value={note} placeholder="a note, if you like" /></label>
    <Field
      id="point-level"
      label={worded('another level')}
      value={place[2]}
      dimension="level"
      take={(v) => {
        void make('level', v as number);
        return null;
      }}
    />
    <div class="buttons">
      <button class="btn btn-primary btn-xs" onclick={() => void make('exclude')}>Take it out of the ground</button>
      <button class="btn btn-xs" onclick={() => void make('keep')}>It is ground</button>
      <button class="btn btn-xs" onclick={() => (w.hand.point = null)}>Close</button>
    </div>
    {#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
  </div>
{/if}

<style>
  .card {
    border: 1px solid var(--color-base-300);
    border-left: 4px solid var(--ink-plumb);
    padding: 0 8px 8px;
    margin: 8px 0;
  }
  label {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  label .field {
    text-align: left;
  }
  .buttons {
    display: flex;
    gap: 4px;
    flex-wrap: wrap;
    margin-top: 6px;
  }
</style>
