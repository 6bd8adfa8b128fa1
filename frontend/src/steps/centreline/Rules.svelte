<script lang="ts">
  import { api, ask } from '../../api/client';
  import InputForm from '../../lib/fields/InputForm.svelte';
  import RowsForm from '../../lib/fields/RowsForm.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // By what bends are judged: each value can be changed, and says where it is from.
  const w = useWork();
  const DIVIDES = ['shared', 'superelevation first', 'friction first'] as const;

  function divide(how: string): void {
    w.act(
      w.save({
        what: '“superelevation of gentler bends”',
        send: ({ path, base, token, project }) => {
          const bends = { ...project.bends!, divides: how as (typeof DIVIDES)[number] };
          return ask(api.PUT('/api/projects/{project_id}/bends', { params: { path }, body: { base, token, bends } }));
        },
      }),
    );
  }
</script>

<div class="rules">
  <InputForm kind="bends" only={(name) => name === 'max_superelevation'} />
  <label class="row"
    >gentler bends
    <select
      class="select select-sm"
      value={w.project?.bends?.divides}
      onchange={(e) => divide(e.currentTarget.value)}
      title="How superelevation and side friction share what a bend gentler than the tightest needs"
    >
      {#each DIVIDES as how (how)}<option value={how}>{how}</option>{/each}
    </select>
  </label>
  <InputForm kind="bends" only={(name) => name !== 'max_superelevation' && name !== 'divides'} />
  <h2>By speed</h2>
  <RowsForm
    kind="bends"
    label="Rules by speed"
    name={(i) => String(i + 1)}
    fresh={() => ({ speed_kmh: 140, side_friction: 0.07, relative_grade: 0.0032, source: 'typed' })}
  />
  <p class="faint">
    Least radius V²/(127 (e + f)). Transition: the longest of V³/(46.656 R × lateral jerk), √(24 × shift × R), and what
    turning the road takes, width × superelevation / grade of its edge. Widening n l²/(2R) + V/(9.5 √R). All but the
    least radius and the turning, which are printed policy, are from memory.
  </p>
</div>

<style>
  .rules {
    overflow-y: auto;
    --label-width: 170px;
  }
  .row {
    display: grid;
    grid-template-columns: 170px 180px;
    gap: 6px;
    align-items: center;
  }
</style>
