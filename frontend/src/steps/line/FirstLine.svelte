<script lang="ts">
  import Field from '../../lib/fields/Field.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { unitLength, worded } from '../../lib/system.svelte';
  import FromProfile from './FromProfile.svelte';

  // Where there is no grade line yet: one along the ground in one action, or a straight one.
  const w = useWork();
  let cut = $state<number | null>(null);
  let fill = $state<number | null>(null);
  let drains = $state<'roll' | 'even'>('roll');
  let round = $state(false);
  let busy = $state(false);

  async function fit(): Promise<void> {
    busy = true;
    const why = await w.making.along(cut, fill, drains, round);
    busy = false;
    if (why) w.notices.tell(why);
  }
</script>

<h2>No grade line yet</h2>
<p>Start with a line that lies near the ground within the limits, with few IPs; then drag its handles.</p>
<div class="fields">
  <Field
    id="first-cut"
    label="deepest cut"
    value={cut}
    dimension="length"
    optional
    aside="where possible"
    take={(v) => {
      cut = v as number | null;
      return cut === null || cut > 0 ? null : 'A depth is above 0.';
    }}
  />
  <Field
    id="first-fill"
    label="highest fill"
    value={fill}
    dimension="length"
    optional
    aside="where possible"
    take={(v) => {
      fill = v as number | null;
      return fill === null || fill > 0 ? null : 'A height is above 0.';
    }}
  />
</div>
<label class="flat"
  >where the ground is flatter than the flattest grade
  <select class="select select-xs" id="first-drains" bind:value={drains}>
    <option value="roll">it rises and falls by turns</option>
    <option value="even">it has one even grade</option>
  </select></label
>
<label class="ticked"
  ><input type="checkbox" class="checkbox checkbox-xs" id="first-round" bind:checked={round} />round grades (0.1 %) and
  {worded('chainages')} ({unitLength() === 1 ? '5 m' : '10 ft'})</label
>
{#if busy}
  <p role="status">
    <span class="loading loading-dots loading-xs" aria-hidden="true"></span> Fitting a line to the ground: a second for 10
    km, half a minute for 30.
  </p>
{/if}
<div class="buttons">
  <button class="btn btn-primary btn-sm" disabled={busy} onclick={fit}>Line along the ground</button>
  <button class="btn btn-sm" disabled={busy} onclick={() => w.act(w.making.straight())}>New straight line</button>
</div>
<FromProfile />

<style>
  .fields {
    --label-width: 84px;
    --field-width: 92px;
  }
  .flat {
    display: flex;
    flex-direction: column;
    gap: 2px;
    margin-top: 6px;
  }
  .ticked {
    display: flex;
    align-items: center;
    gap: 4px;
    min-height: 28px;
    cursor: pointer;
  }
  .buttons {
    display: flex;
    gap: 6px;
    margin-top: 6px;
  }
  p {
    margin: 6px 0;
  }
</style>
