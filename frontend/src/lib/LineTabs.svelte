<script lang="ts">
  import { DASHES, lineInk } from './deck/ink';
  import LineMenu from './LineMenu.svelte';
  import { marked } from './status';
  import { useWork } from './state/work.svelte';
  import { theme } from './theme.svelte';

  const w = useWork();
  let renaming = $state(false);
  let name = $state('');

  const ink = (colour: number) => (theme.name ? lineInk(colour) : '');

  function rename(): void {
    // Leaving the field after Enter is no second rename.
    if (!renaming) return;
    renaming = false;
    const called = name.trim();
    if (!called || called === w.line?.name) return;
    w.act(w.making.rename(called));
  }
</script>

<div class="line-tabs">
  {#if (w.project?.centrelines.length ?? 0) > 1}
    <select
      class="select select-sm road"
      aria-label="Road"
      value={w.road?.slot}
      disabled={w.drawing.dirty}
      title={w.drawing.dirty ? 'Save the centreline, or put it back, before another road is looked at' : 'Road'}
      onchange={(e) => w.chooseRoad(e.currentTarget.value)}
    >
      {#each w.project!.centrelines as road (road.slot)}<option value={road.slot}>{road.name}</option>{/each}
    </select>
  {/if}
  <div class="tabs-only" role="group" aria-label="Grade lines">
    {#each w.lines as line (line.slot)}
      {@const current = line.slot === w.selection.slot}
      <div class="line-tab" class:current style:border-top-color={ink(line.colour)}>
        {#if current && renaming}
          <!-- svelte-ignore a11y_autofocus -->
          <input
            class="field"
            aria-label="Name of the line"
            maxlength="60"
            autofocus
            bind:value={name}
            onblur={() => rename()}
            onkeydown={(e) => {
              if (e.key === 'Enter') rename();
              if (e.key === 'Escape') renaming = false;
              e.stopPropagation();
            }}
          />
        {:else}
          <button class="tab-name" aria-pressed={current} onclick={() => w.choose(line.slot)} title={line.name}>
            <svg width="20" height="8" aria-hidden="true">
              <line
                x1="0"
                y1="4"
                x2="20"
                y2="4"
                stroke={ink(line.colour)}
                stroke-width="2.5"
                stroke-dasharray={current ? '' : DASHES[line.colour]?.join(' ')}
              />
            </svg>
            <span>{line.name}</span>
            {#if line.status !== 'draft'}<b class="said" title={`This line is ${marked(line.status)[1]}`}
                >{marked(line.status)[2]}</b
              >{/if}
          </button>
        {/if}
        {#if !current}
          <label class="over" title="Draw this line over the present one">
            <input
              type="checkbox"
              class="checkbox checkbox-xs"
              aria-label={`Show ${line.name} over the present line`}
              checked={line.slot in w.over.shown}
              onchange={(e) => {
                if (e.currentTarget.checked) void w.over.show(line.slot);
                else w.over.hide(line.slot);
              }}
            />
          </label>
        {/if}
      </div>
    {/each}
  </div>
  {#if w.still}
    <LineMenu
      onrename={() => {
        name = w.line?.name ?? '';
        renaming = true;
      }}
    />
  {/if}
</div>

<style>
  .road {
    width: 128px;
    align-self: center;
  }
  .tabs-only {
    display: flex;
    align-items: flex-end;
    gap: 4px;
    height: 100%;
    min-width: 0;
    flex: 0 1 auto;
    /* Names shorten first; where even that is too much, the rest is reached by scrolling. */
    overflow-x: auto;
    scrollbar-width: thin;
  }
  .line-tabs {
    display: flex;
    align-items: flex-end;
    gap: 4px;
    height: 100%;
    min-width: 0;
    flex: 1 1 0;
    padding-left: 8px;
  }
  .line-tab {
    display: flex;
    align-items: center;
    gap: 2px;
    height: 34px;
    padding: 0 6px;
    border: 1px solid var(--color-base-300);
    border-top: 3px solid;
    border-bottom: 0;
    border-radius: 6px 6px 0 0;
    background: var(--color-base-200);
    min-width: 84px;
    flex: 0 1 auto;
  }
  .line-tab.current {
    height: 42px;
    background: var(--color-base-100);
    font-weight: 700;
    max-width: max(132px, 14vw);
    min-width: 112px;
  }
  .line-tab button {
    display: flex;
    align-items: center;
    gap: 6px;
    min-height: 28px;
    min-width: 0;
    cursor: pointer;
  }
  .line-tab svg {
    flex: none;
  }
  .line-tab span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .said {
    color: var(--ink-line);
  }
  .over {
    display: grid;
    place-items: center;
    width: 24px;
    height: 24px;
  }
</style>
