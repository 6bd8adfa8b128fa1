<script lang="ts">
  import { DASHES, lineInk } from './deck/ink';
  import { STATUSES, type Status } from './status';
  import { useWork } from './state/work.svelte';
  import { theme } from './theme.svelte';

  // What can be done with grade lines as a whole: new ones, and copy, name, colour and status of the one on screen.
  let { onrename }: { onrename: () => void } = $props();
  const w = useWork();
  let open = $state(false);
  const ink = (colour: number) => (theme.name ? lineInk(colour) : '');

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
              open = false;
              onrename();
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

<style>
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
  hr {
    margin: 4px 0;
    border-color: var(--color-base-300);
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
