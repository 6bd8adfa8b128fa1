<script lang="ts">
  import type { Finding } from '../../api/client';
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';

  // What the limit or control that was just entered changed on this line: what it breaks now, or keeps by a hair only.
  const w = useWork();
  const keyOf = (u: Finding) => `${u.check} ${u.ip} ${u.about} ${u.bad}`;
  const now = $derived([...w.findings.filter((u) => !u.advice), ...(w.shownFigures?.products.uses?.nearly ?? [])]);
  let was: { slot: string; revision: number; keys: string[] } | null = null;
  let fresh = $state.raw<Finding[]>([]);

  $effect(() => {
    const [of, all] = [w.shownFigures?.of, now];
    if (!of?.slot || of.edits.length || !w.fresh) return;
    if (was?.slot === of.slot && was.revision !== of.revision) {
      const before = was.keys;
      fresh = all.filter((u) => !before.includes(keyOf(u)));
    }
    was = { slot: of.slot, revision: of.revision, keys: all.map(keyOf) };
  });
</script>

{#if fresh.length}
  <div class="advice-box" role="status" data-item="entered">
    <b>What you just changed</b>
    <ul>
      {#each fresh.slice(0, 4) as u, i (i)}
        <li>
          <button onclick={() => w.goTo(u)}
            >{u.bad === 'fails' ? 'now fails' : 'is kept by a hair'}: {worded(u.name)}, {u.sentence}</button
          >
        </li>
      {/each}
      {#if fresh.length > 4}<li class="faint">and {fresh.length - 4} more</li>{/if}
    </ul>
  </div>
{/if}

<style>
  ul {
    margin: 2px 0 0;
    padding-left: 14px;
    font-size: 12.5px;
  }
  button {
    text-align: left;
    cursor: pointer;
  }
</style>
