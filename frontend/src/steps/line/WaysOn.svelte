<script lang="ts">
  import { signedWhole } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';

  // What could be instead of what was just refused: drawn as a ghost while looked at, done by one click.
  const w = useWork();
  const now = $derived(w.refused.now);
</script>

{#if now}
  <section class="ways" aria-label="What could be instead">
    <p role="status"><b>Not possible.</b> {now.reason}</p>
    {#each now.ways as way, i (way.label)}
      <button
        class="btn btn-sm way"
        onclick={() => w.takeWay(way)}
        title={`Do it (Alt+${i + 1})`}
        onmouseenter={() => void w.refused.look(way)}
        onmouseleave={() => void w.refused.look(null)}
        onfocus={() => void w.refused.look(way)}
        onblur={() => void w.refused.look(null)}
      >
        <span
          >{way.label}{#each way.breaks.slice(0, 2) as what (what)}<span class="failure breaks">✕ breaks {what}</span
            >{/each}{#if way.breaks.length > 2}<span class="failure breaks">and {way.breaks.length - 2} more</span
            >{/if}</span
        >
        {#if way.cost_change !== null}
          <span class="num">{signedWhole(way.cost_change)} {w.project?.cost?.currency}</span>
        {/if}
      </button>
    {:else}
      {#if w.line?.status === 'final'}
        <button class="btn btn-sm" onclick={() => w.act(w.making.copy())}>Work on a copy</button>
      {:else}
        <p class="faint">There is no way on from there: try another value.</p>
      {/if}
    {/each}
    <button class="btn btn-xs" onclick={() => w.refused.drop()}>Leave it as it is</button>
  </section>
{/if}

<style>
  .ways {
    border-left: 4px solid var(--ink-caution);
    padding: 2px 0 4px 8px;
    margin: 4px 0;
  }
  .way {
    display: flex;
    width: 100%;
    height: auto;
    min-height: 28px;
    padding: 3px 8px;
    margin-top: 4px;
    justify-content: space-between;
    text-align: left;
    font-weight: 500;
    line-height: 1.25;
  }
  .way .num {
    white-space: nowrap;
  }
  .breaks {
    display: block;
    font-size: 12px;
    font-weight: 400;
  }
  p {
    margin: 2px 0;
  }
  .btn-xs {
    margin-top: 4px;
  }
</style>
