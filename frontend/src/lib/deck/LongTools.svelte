<script lang="ts">
  import { sheetAddress } from '../address';
  import { worded } from '../system.svelte';
  import { nextFailure, zoomToIp } from '../actions';
  import Drop from '../Drop.svelte';
  import { LONG_TEXTS, type LongText } from '../state/written.svelte';
  import { useWork } from '../state/work.svelte';
  import { fixed } from '../format';
  import { RATIOS } from './levels';

  // What the long section shows: all, the IP in hand, the next failure; and how much heights are exaggerated.
  const w = useWork();
  const { axes } = w.selection;
  const texts = Object.entries(LONG_TEXTS) as [LongText, string][];
</script>

<select
  class="select select-xs"
  aria-label="Exaggeration of heights"
  title="How much heights are exaggerated"
  value={axes.ratio ?? 0}
  onchange={(e) => (axes.ratio = Number(e.currentTarget.value) || null)}
>
  <option value={0}>heights ×{fixed(w.long.ratio, w.long.ratio % 1 ? 1 : 0)}, as fits</option>
  {#each RATIOS as ratio (ratio)}<option value={ratio}>heights ×{ratio}</option>{/each}
</select>
<button
  class="btn btn-xs"
  class:btn-active={axes.snaps}
  aria-pressed={axes.snaps}
  title={worded(
    'A dragged IP snaps to the ground, to lines drawn over it, to round chainages and ends of bends (S); Alt turns it round while held',
  )}
  onclick={() => (axes.snaps = !axes.snaps)}>{axes.snaps ? '● Snap' : 'Snap'}</button
>
<button class="btn btn-xs" title="Show the whole line (0)" onclick={() => axes.fit()}>All</button>
<button
  class="btn btn-xs"
  disabled={w.selection.ip === null}
  title="Zoom to the selected IP (Z)"
  onclick={() => zoomToIp(w)}>IP</button
>
<button class="btn btn-xs" title="Zoom to the next failure (F)" onclick={() => nextFailure(w)}>Failure</button>

<Drop name="Labels" title="What is written in the long section">
  {#each texts as [id, says] (id)}
    <label
      ><input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={w.written.long(id)}
        onchange={() => w.written.toggle(id)}
      />{worded(says)}</label
    >
  {/each}
</Drop>
{#if w.line && w.project}
  <a
    class="btn btn-xs"
    title={worded('The long section on paper: PDF, DXF, SVG')}
    href={sheetAddress(w.project.id, 'long-section', w.line.slot)}>Paper</a
  >
{/if}

<style>
  .select,
  .btn {
    flex: none;
    height: 24px;
    min-height: 24px;
    font-size: 12px;
  }
  .select {
    width: auto;
    max-width: 150px;
  }
</style>
