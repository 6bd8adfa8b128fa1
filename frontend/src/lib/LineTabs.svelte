<script lang="ts">
  import { DASHES, lineInk } from './deck/ink';
  import { useWork } from './state/work.svelte';
  import { theme } from './theme.svelte';

  const w = useWork();
  let open = $state(false);
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
  /** What a line can be said to be, with its mark. */
  const STATUSES = [
    ['draft', 'a draft', ''],
    ['checking', 'for checking', '?'],
    ['final', 'final', '✓'],
  ] as const;
  type Status = (typeof STATUSES)[number][0];
  const marked = (status: Status) => STATUSES.find(([id]) => id === status)!;

  function setStatus(status: Status): void {
    open = false;
    w.act(w.making.setStatus(status));
  }
  function setColour(colour: number): void {
    open = false;
    w.act(w.making.setColour(colour));
  }
  function remove(): void {
    open = false;
    w.act(w.making.remove());
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
    <div class="menu-box">
      <button
        class="btn btn-xs"
        aria-expanded={open}
        onclick={() => (open = !open)}
        title="New, copy, rename or delete a grade line">Line…</button
      >
      {#if open}
        <div class="choices" role="menu">
          <button
            role="menuitem"
            onclick={() => {
              open = false;
              w.act(w.making.along(null, null));
            }}>New line along the ground</button
          >
          <button
            role="menuitem"
            onclick={() => {
              open = false;
              w.act(w.making.straight());
            }}>New straight line</button
          >
          {#if w.line}
            <button
              role="menuitem"
              onclick={() => {
                open = false;
                w.act(w.making.copy());
              }}>Copy “{w.line.name}”</button
            >
            <button
              role="menuitem"
              onclick={() => {
                name = w.line?.name ?? '';
                renaming = true;
                open = false;
              }}>Rename “{w.line.name}”</button
            >
            <button role="menuitem" onclick={() => void remove()}>Delete “{w.line.name}”</button>
            <div class="inks" role="group" aria-label="Colour and dash">
              {#each DASHES as dash, colour (colour)}
                <button
                  role="menuitemradio"
                  aria-checked={w.line.colour === colour}
                  aria-label={`Colour ${colour + 1}`}
                  title={`Colour ${colour + 1}, with its dash where it is drawn over another line`}
                  onclick={() => setColour(colour)}
                >
                  <svg width="24" height="12" aria-hidden="true">
                    <line
                      x1="0"
                      y1="6"
                      x2="24"
                      y2="6"
                      stroke={ink(colour)}
                      stroke-width="3"
                      stroke-dasharray={dash.join(' ')}
                    />
                  </svg>
                </button>
              {/each}
            </div>
            <hr />
            {#each STATUSES as [id, words, mark] (id)}
              <button
                role="menuitemradio"
                aria-checked={w.line.status === id}
                title={id === 'final' ? 'A final line is changed only as a copy' : undefined}
                onclick={() => setStatus(id)}>{w.line.status === id ? '●' : '○'} It is {words} {mark}</button
              >
            {/each}
          {/if}
        </div>
      {/if}
    </div>
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
  .inks {
    display: flex;
  }
  .choices .inks button {
    padding: 4px;
    width: 34px;
    display: grid;
    place-items: center;
  }
  .inks [aria-checked='true'] {
    box-shadow: inset 0 -2px 0 var(--ink-plumb);
  }
  .said {
    color: var(--ink-line);
  }
  hr {
    margin: 4px 0;
    border-color: var(--color-base-300);
  }
  .over {
    display: grid;
    place-items: center;
    width: 24px;
    height: 24px;
  }
  .menu-box {
    position: relative;
    align-self: center;
    flex: none;
  }
  .choices {
    position: absolute;
    z-index: 20;
    top: 28px;
    left: 0;
    min-width: 190px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 6px;
    box-shadow: 0 6px 20px rgb(0 0 0 / 0.18);
    padding: 4px;
  }
  .choices button {
    display: block;
    width: 100%;
    padding: 4px 8px;
    min-height: 28px;
    text-align: left;
    border-radius: 4px;
    cursor: pointer;
  }
  .choices button:hover,
  .choices button:focus-visible {
    background: var(--color-base-200);
  }
</style>
