<script lang="ts">
  import { changeInput } from './state/rows';
  import type { System } from '../api/fields';
  import { useWork } from './state/work.svelte';
  import { ownSystem, readIn, SYSTEMS } from './system.svelte';

  // What numbers are shown in: the project's own, and what one reads every project in on this machine.
  let { onclose }: { onclose: () => void } = $props();
  const w = useWork();
  const theirs = $derived(w.project?.practice?.system ?? 'metric');
  const named = (system: string) => SYSTEMS.find(([id]) => id === system)?.[1] ?? system;

  const put = (system: string) => w.act(changeInput(w, 'practice', 'the units of the project', () => ({ system })));
</script>

<div class="list rail-box" role="group" aria-label="Units">
  <label
    >This project is in
    <select class="select select-sm" value={theirs} onchange={(e) => put(e.currentTarget.value)}>
      {#each SYSTEMS as [id, says] (id)}<option value={id}>{says}</option>{/each}
    </select></label
  >
  <label
    >I read it in
    <select
      class="select select-sm"
      value={ownSystem() ?? ''}
      onchange={(e) => readIn((e.currentTarget.value || null) as System | null)}
    >
      <option value="">the project's own, {named(theirs)}</option>
      {#each SYSTEMS as [id, says] (id)}<option value={id}>{says}, every project</option>{/each}
    </select></label
  >
  <p class="faint">
    Only what is shown changes, and what a number without a unit means: fields understand either (45 m, 150 ft, 1+234.5,
    12+34.56). The US survey foot is the one of coordinates from before 2023.
  </p>
  <button class="btn btn-xs" onclick={onclose}>Close</button>
</div>

<style>
  .list {
    width: 300px;
  }
  label {
    display: grid;
    grid-template-columns: 100px minmax(0, 1fr);
    align-items: center;
    gap: 6px;
  }
  p {
    margin: 0;
    font-size: 12.5px;
  }
  .btn {
    justify-self: start;
  }
</style>
