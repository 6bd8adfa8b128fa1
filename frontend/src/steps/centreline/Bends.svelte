<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { figure, told, allowed } from '../../lib/units';
  import type { Schemas } from '../../api/client';
  import Grid from '../../lib/fields/Grid.svelte';
  import { chainage, fixed } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';

  // What each bend allows and needs at its design speed, and what is advised of bends and vertical curves together.
  type Row = Schemas['BendRow'];
  const w = useWork();
  const d = $derived(w.drawing);
  const rows = $derived(d.draft?.bends ?? []);
  const speed = $derived(w.project?.limits?.design_speed_kmh ?? 0);
  const advice = $derived(d.draft?.advice ?? []);

  const COLUMNS = [
    {
      key: 'radius',
      title: 'radius',
      dimension: 'about' as const,
      show: ({ bend: b }: Row) => `${figure('about', b.radius_m)} ${b.deflection > 0 ? 'right' : 'left'}`,
    },
    {
      key: 'superelevation',
      title: 'banked',
      dimension: 'grade' as const,
      show: ({ speed: s }: Row) => fixed(100 * s.superelevation, 1),
      edit: () => true,
    },
    {
      key: 'friction',
      title: 'friction',
      dimension: 'factor' as const,
      show: ({ speed: s }: Row) => `${fixed(s.friction, 2)} of ${fixed(s.friction_allowed, 2)}`,
    },
    {
      key: 'allowed',
      title: 'allows',
      dimension: 'speed' as const,
      show: ({ speed: s }: Row) => allowed(s.allowed_kmh),
    },
    {
      key: 'transition',
      title: 'transition',
      dimension: 'length' as const,
      show: ({ bend: b, speed: s }: Row) =>
        `${figure('about', Math.min(b.transition_in_m, b.transition_out_m))} of ${figure('about', s.transition_m)}`,
    },
    {
      key: 'widening',
      title: 'widen',
      dimension: 'length' as const,
      show: ({ speed: s }: Row) => figure('length', s.widening_m, 1),
    },
  ];

  const marked = $derived(rows.filter((row) => row.marks.length));
</script>

{#if rows.length}
  <div class="pane">
    <p class="faint">
      What each needs of what there is at the design speed of {told('speed', speed)}. Superelevation can be typed.
    </p>
    <Grid
      label="Bends and their speeds"
      columns={COLUMNS}
      {rows}
      current={rows.findIndex(({ bend }) => bend.ip === d.current)}
      name={(i) => String(rows[i]!.bend.ip + 1)}
      fails={(i) => rows[i]!.too_tight}
      oncurrent={(i) => (d.current = rows[i]!.bend.ip)}
      ontype={(i, _, value) => {
        d.type(rows[i]!.bend.ip, { superelevation: value as number });
        return null;
      }}
    />
    {#if marked.length}
      <h2>Marked</h2>
      <ul class="list" aria-label="Marked bends">
        {#each marked as row (row.bend.ip)}
          <li class:failure={row.too_tight}>
            <button class="link" onclick={() => (d.current = row.bend.ip)}>IP {row.bend.ip + 1}</button>
            at {chainage(row.bend.from_chainage_m, 0)}: {row.marks.join('; ')}
          </li>
        {/each}
      </ul>
    {:else}<p>Every bend allows its design speed.</p>{/if}
    {#if advice.length}
      <h2>Bends and vertical curves together</h2>
      <ul class="list" aria-label="Coordination">
        {#each advice as u (`${u.check} ${u.ip} ${u.from_chainage_m}`)}
          <li>
            {#if d.dirty}{chainage(u.from_chainage_m, 0)}{:else}
              <button class="link" onclick={() => w.goTo(u)}>{chainage(u.from_chainage_m, 0)}</button>{/if}
            <b>{worded(u.name)}</b>: {u.brief}
          </li>
        {/each}
      </ul>
    {/if}
  </div>
{:else}<p class="faint">No bends yet.</p>{/if}

<style>
  .pane {
    flex: 1;
    overflow: auto;
    min-height: 90px;
  }
  li {
    padding: 1px 0;
  }
  .link {
    text-decoration: underline;
    cursor: pointer;
  }
</style>
