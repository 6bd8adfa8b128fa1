<script lang="ts">
  import InputForm from '../../lib/fields/InputForm.svelte';
  import RowsForm from '../../lib/fields/RowsForm.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // By what bends are judged: each value can be changed, and says where it is from.
  const w = useWork();
  const least = $derived(w.project?.bends?.form === 'metric' ? 'V²/(127 (e + f))' : 'V²/(15 (e + f)) in mph and feet');
</script>

<div class="rules">
  <InputForm kind="bends" />
  <h2>By speed</h2>
  <RowsForm
    kind="bends"
    label="Rules by speed"
    name={(i) => String(i + 1)}
    fresh={() => ({ speed_kmh: 140, side_friction: 0.07, relative_grade: 0.0032, source: 'typed' })}
  />
  <p class="faint">
    Least radius {least}. Transition: the longest of V³/(46.656 R × lateral jerk), √(24 × shift × R), and what turning
    the road takes, width × superelevation / grade of its edge. Widening n Σl²/(2R) + V/(9.5 √R), with n lanes and the
    wheelbases l of the longest vehicle. All but the least radius and the turning, which are printed policy, are from
    memory.
  </p>
</div>

<style>
  .rules {
    overflow-y: auto;
    --label-width: 170px;
  }
</style>
