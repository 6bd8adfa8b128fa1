<script lang="ts">
  import { few, unitOf } from './units';
  import { worded } from './system.svelte';
  import { TRACKS } from './deck/tracks';
  import { LEAST_HEIGHT } from './state/layout.svelte';
  import { offsetsOf } from './state/beside.svelte';
  import { useWork } from './state/work.svelte';

  let { onclose }: { onclose: () => void } = $props();
  const w = useWork();
  const step = $derived(w.selection.step);
  const STEP_PX = 16;

  const written = () => w.beside.offsets.map((o) => few('size', o)).join(', ');
  const height = (id: string) => w.layout.height(step, id) ?? TRACKS[id]!.height;
</script>

<!-- Everything that dragging heads and edges of tracks does, by keys. -->
<div class="list rail-box" role="group" aria-label="Tracks of this step">
  {#each w.layout.order(step) as id (id)}
    {@const kind = TRACKS[id]!}
    {@const shown = w.layout.shown(step).includes(id)}
    {@const h = height(id)}
    <div class="row">
      <label
        ><input
          type="checkbox"
          class="checkbox checkbox-xs"
          checked={shown}
          disabled={id === 'long'}
          onchange={() => w.layout.toggle(step, id)}
        />
        {worded(kind.name)}</label
      >
      <button class="btn btn-xs" disabled={!shown} title="Up" onclick={() => w.layout.move(step, id, -1)}>Up</button>
      <button class="btn btn-xs" disabled={!shown} title="Down" onclick={() => w.layout.move(step, id, 1)}>Down</button>
      <button
        class="btn btn-xs"
        disabled={!shown || h === undefined}
        aria-label={`${kind.name} lower`}
        title="Less high"
        onclick={() => w.layout.resize(step, id, Math.max(h! - STEP_PX, LEAST_HEIGHT))}>−</button
      >
      <button
        class="btn btn-xs"
        disabled={!shown || h === undefined}
        aria-label={`${kind.name} higher`}
        title="Higher"
        onclick={() => w.layout.resize(step, id, h! + STEP_PX)}>+</button
      >
    </div>
  {/each}
  <div class="row">
    <label
      ><input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={w.beside.drawn}
        onchange={() => w.beside.set(w.beside.offsets, !w.beside.drawn)}
      />
      Ground beside the line at</label
    >
    <input
      class="field beside"
      aria-label="Offsets of the ground beside the line"
      title="To the left below zero, with commas between them; at most eight"
      value={written()}
      onchange={(e) => {
        const found = offsetsOf(e.currentTarget.value);
        if (found) w.beside.set(found, true);
        else e.currentTarget.value = written();
      }}
    />
    {unitOf('size')}
  </div>
  <div class="row">
    <button class="btn btn-xs" onclick={() => w.layout.reset(step)}>As at first</button>
    <button class="btn btn-xs" onclick={onclose}>Close</button>
  </div>
</div>

<style>
  .list {
    white-space: nowrap;
  }
  .row {
    display: flex;
    gap: 4px;
    align-items: center;
    min-height: 26px;
  }
  .beside {
    width: 92px;
  }
  label {
    display: flex;
    gap: 6px;
    align-items: center;
    flex: 1;
    min-width: 120px;
  }
</style>
