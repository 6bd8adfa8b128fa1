<script lang="ts">
  import { useWork } from '../../lib/state/work.svelte';

  /** At most so many, where there is little room. */
  let { most = 100 }: { most?: number } = $props();
  const w = useWork();
  const failures = $derived(w.findings.filter((u) => !u.advice));
  const advice = $derived(w.findings.filter((u) => u.advice));
</script>

{#each failures.slice(0, most) as u (`${u.check} ${u.ip} ${u.from_chainage_m}`)}
  <button class="failure-box" onclick={() => w.goTo(u)}><b>{u.name}</b><br />{u.sentence}</button>
{:else}
  {#if w.shownFigures}<p>Nothing fails on “{w.line?.name ?? ''}”.</p>{/if}
{/each}
{#if failures.length > most}<p class="faint">and {failures.length - most} more</p>{/if}
{#each advice.slice(0, most) as u (`${u.check} ${u.ip} ${u.from_chainage_m}`)}
  <button class="advice-box" onclick={() => w.goTo(u)}><b>{u.name}</b>, advice<br />{u.sentence}</button>
{/each}

<style>
  button {
    display: block;
    width: 100%;
    margin: 4px 0;
    text-align: left;
    cursor: pointer;
  }
  p {
    margin: 6px 0;
  }
</style>
