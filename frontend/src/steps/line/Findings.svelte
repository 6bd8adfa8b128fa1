<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { chainage } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';

  /** At most so many, where there is little room. */
  let { most = 100 }: { most?: number } = $props();
  const w = useWork();
  const failures = $derived(w.findings.filter((u) => !u.advice));
  const advice = $derived(w.findings.filter((u) => u.advice));
</script>

{#each failures.slice(0, most) as u (`${u.check} ${u.ip} ${u.from_chainage_m}`)}
  <button class="failure-box" onclick={() => w.goTo(u)}><b>{worded(u.name)}</b><br />{u.sentence}</button>
{:else}
  {#if w.shownFigures}<p>Nothing fails on “{w.line?.name ?? ''}”.</p>{/if}
{/each}
{#if failures.length > most}<p class="faint">and {failures.length - most} more</p>{/if}
{#if advice.length}
  <ul class="advice-box" aria-label="Advice">
    {#each advice.slice(0, 2 * most) as u (`${u.check} ${u.ip} ${u.from_chainage_m}`)}
      <li>
        <button class="brief" title={u.sentence} onclick={() => w.goTo(u)}
          >{chainage(u.from_chainage_m, 0)} <b>{worded(u.name)}</b></button
        >
      </li>
    {/each}
    {#if advice.length > 2 * most}<li class="faint">and {advice.length - 2 * most} more</li>{/if}
  </ul>
{/if}

<style>
  button {
    display: block;
    width: 100%;
    margin: 4px 0;
    text-align: left;
    cursor: pointer;
  }
  .brief {
    margin: 0;
  }
  p {
    margin: 6px 0;
  }
</style>
