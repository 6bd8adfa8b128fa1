<script lang="ts">
  import { deleteRoad } from '../../lib/state/roads';
  import { worded } from '../../lib/system.svelte';
  import Field from '../../lib/fields/Field.svelte';
  import { WITH_GRADE } from '../../lib/state/drawing.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // Which road's centreline this is, further ones, and other roads that it meets at its ends.
  const w = useWork();
  const d = $derived(w.drawing);
  const roads = $derived(w.project?.centrelines ?? []);
  const ENDS = ['start', 'end'] as const;
  /** Grade lines of other roads: they hand over their level where this road begins or ends on theirs. */
  const others = $derived(
    (w.project?.lines ?? [])
      .filter((l) => l.road !== w.road?.slot || d.further)
      .map((l) => ({ slot: l.slot, says: `${roads.find((r) => r.slot === l.road)?.name ?? ''}: ${l.name}` })),
  );

  const remove = () => w.act(deleteRoad(w));
</script>

{#if roads.length}
  <div class="roads">
    <Field
      id="road-name"
      label={d.further ? 'a further road' : 'road'}
      value={d.name ?? d.saved?.name ?? `road ${roads.length + 1}`}
      dimension="name"
      take={(v) => {
        d.name = String(v);
        return null;
      }}
    />
    <div class="buttons">
      <button class="btn btn-xs" disabled={d.dirty || d.further} onclick={() => d.begin(false)}>New road</button>
      <button
        class="btn btn-xs"
        disabled={d.dirty || d.further}
        title="A copy of this centreline as another option"
        onclick={() => d.begin(true)}>Option</button
      >
      {#if w.road && w.road.slot !== 'centreline' && !d.further}
        <button class="btn btn-xs" disabled={d.dirty} onclick={remove}>Delete</button>
      {/if}
      {#if d.further && !d.dirty}<button class="btn btn-xs" onclick={() => d.putBack()}>Leave it</button>{/if}
    </div>
    {#if others.length}
      {#each ENDS as end (end)}
        <label class="meets"
          >{end} meets
          <select
            class="select select-sm"
            value={d.met(end)}
            title={worded("This road's tie-in takes the level of that road's surface there, or how it rises too")}
            onchange={(e) => (d.meets = { ...d.meets, [end]: e.currentTarget.value })}
          >
            <option value="">no road</option>
            {#each others as other (other.slot)}
              <option value={other.slot}>{other.says}, {worded('its level')}</option>
              <option value={other.slot + WITH_GRADE}>{other.says}, {worded('level and grade')}</option>
            {/each}
          </select>
        </label>
      {/each}
    {/if}
  </div>
{/if}

<style>
  .roads {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 2px 10px;
    padding-bottom: 4px;
    --label-width: 84px;
    --field-width: 140px;
  }
  .buttons {
    display: flex;
    gap: 6px;
  }
  .meets {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  .meets select {
    width: 150px;
  }
</style>
