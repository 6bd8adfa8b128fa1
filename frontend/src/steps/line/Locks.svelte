<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import type { Ip } from '../../api/client';
  import { useWork } from '../../lib/state/work.svelte';

  // What of an IP every edit keeps: a locked grade takes the next IP along.
  let { ip, at }: { ip: Ip; at: number } = $props();
  const w = useWork();
  const last = $derived(w.ips.length - 1);
  const now = $derived({
    chainage: ip.locked_chainage_m !== null,
    level: ip.locked_level_m !== null,
    grade_in: at > 0 && (w.ips[at - 1]?.locked_grade ?? null) !== null,
    grade_out: ip.locked_grade !== null,
  });
  const LOCKS = $derived(
    (
      [
        ['chainage', 'chainage', at > 0 && at < last],
        ['level', 'level', true],
        ['grade_in', 'in', at > 0],
        ['grade_out', 'out', at < last],
      ] as const
    ).filter(([, , there]) => there),
  );
</script>

<div class="locks" role="group" aria-label="Locks">
  <span>locked</span>
  {#each LOCKS as [key, says] (key)}
    <label title={worded(`No edit changes the ${key.replace('_', ' ')} until it is unlocked`)}>
      <input
        type="checkbox"
        class="checkbox checkbox-xs"
        checked={now[key]}
        onchange={() => w.act(w.apply({ what: 'lock', ip: at, ...now, [key]: !now[key] }))}
      />{worded(says)}
    </label>
  {/each}
</div>

<style>
  .locks {
    display: flex;
    align-items: center;
    gap: 0 9px;
    min-height: 28px;
  }
  label {
    display: flex;
    align-items: center;
    gap: 3px;
    min-height: 24px;
    cursor: pointer;
  }
</style>
