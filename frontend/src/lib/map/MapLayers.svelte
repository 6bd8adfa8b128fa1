<script lang="ts">
  import { inks } from '../deck/ink';
  import { useWork } from '../state/work.svelte';
  import { LAYERS } from './layers';
  import { SLOPES, type Shading } from './shade';

  let { step, interval, onclose }: { step: string; interval: number; onclose: () => void } = $props();
  const w = useWork();
  const looks = $derived(w.map.looks);
  const SHADINGS: [Shading, string][] = [
    ['hill', 'hills, lit from the north-west'],
    ['slope', 'how steep'],
    ['level', 'how high'],
    ['none', 'none'],
  ];
  const INTERVALS = [0.1, 0.2, 0.5, 1, 2, 5, 10];
</script>

<div class="layers" role="group" aria-label="Layers of the map">
  {#each LAYERS as layer (layer.id)}
    <label
      ><input
        type="checkbox"
        class="checkbox checkbox-sm"
        checked={w.map.shows(step, layer.id)}
        onchange={() => w.map.toggle(step, layer.id)}
      />
      {layer.title}</label
    >
  {/each}
  <label
    >shade
    <select
      class="select select-sm"
      value={looks.shading}
      onchange={(e) => w.map.put({ shading: e.currentTarget.value as Shading })}
    >
      {#each SHADINGS as [value, says] (value)}<option {value}>{says}</option>{/each}
    </select></label
  >
  {#if looks.shading === 'slope'}
    <ul class="num">
      {#each SLOPES as [above, says, dark] (above)}
        <li><i style:background={inks().relief} style:opacity={dark + 0.04}></i>{says}</li>
      {/each}
    </ul>
  {/if}
  <label
    >contours each
    <select
      class="select select-sm"
      value={looks.interval}
      onchange={(e) => w.map.put({ interval: Number(e.currentTarget.value) })}
    >
      <option value={0}>as suits ({interval} m)</option>
      {#each INTERVALS as value (value)}<option {value}>{value} m</option>{/each}
    </select></label
  >
  <label
    ><input
      type="checkbox"
      class="checkbox checkbox-sm"
      checked={looks.smooth}
      onchange={() => w.map.put({ smooth: !looks.smooth })}
    /> round their corners</label
  >
  {#if looks.smooth}<p class="faint">For drawing only: levels are those of the triangles.</p>{/if}
  <button class="btn btn-xs" onclick={onclose}>Close</button>
</div>

<style>
  .layers {
    position: absolute;
    right: 6px;
    top: 34px;
    z-index: 2;
    display: grid;
    gap: 4px;
    width: 250px;
    padding: 8px 10px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 4px;
  }
  label {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 24px;
    white-space: nowrap;
  }
  li {
    display: flex;
    gap: 6px;
    align-items: center;
    line-height: 18px;
  }
  li i {
    width: 22px;
    height: 12px;
    border: 1px solid var(--color-base-300);
  }
  p {
    line-height: 1.2;
  }
</style>
