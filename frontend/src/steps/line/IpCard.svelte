<script lang="ts">
  import { api, ask, type Edit, type Schemas } from '../../api/client';
  import NumberField from '../../lib/fields/NumberField.svelte';
  import { chainage, fixed, grade, signed, signedWhole } from '../../lib/format';
  import { valueAt } from '../../lib/deck/trace';
  import type { Workspace } from '../../lib/state/workspace.svelte';

  let { w }: { w: Workspace } = $props();
  const i = $derived(w.selected ?? 0);
  const ip = $derived(w.ip);
  const last = $derived(w.ips.length - 1);
  const inner = $derived(i > 0 && i < last);
  const kind = $derived(!ip || !inner || ip.change_of_grade === 0 ? '' : ip.change_of_grade < 0 ? 'crest' : 'sag');
  const name = $derived(i === 0 ? 'Start' : i === last ? 'End' : `IP ${i}`);
  const findings = $derived(w.findings.filter((u) => u.ip === i && !u.check.startsWith('no_')));
  const needs = $derived.by(() => {
    const limits = w.project?.limits;
    if (!limits || !kind) return '';
    return `needs ${kind === 'crest' ? limits.min_crest_k_m_per_pct : limits.min_sag_k_m_per_pct}`;
  });
  const above = $derived.by(() => {
    const t = w.terrain;
    if (!t || !ip) return '';
    const ground = valueAt(t.arrays.ground_chainage!, t.arrays.ground_level!, ip.chainage_m);
    return Number.isNaN(ground)
      ? 'no ground'
      : `${fixed(Math.abs(ip.level_m - ground), 2)} ${ip.level_m < ground ? 'under' : 'over'} ground`;
  });

  let remedies = $state.raw<Schemas['Remedy'][]>([]);
  // What would mend it follows once the hand lets go.
  $effect(() => {
    const [p, slot, at] = [w.project, w.slot, w.selected];
    if (!p || !slot || at === null || w.draft || findings.length === 0) {
      if (!w.draft) remedies = [];
      return;
    }
    let stale = false;
    const path = { project_id: p.id, slot };
    ask(
      api.GET('/api/projects/{project_id}/lines/{slot}/remedies', {
        params: { path, query: { revision: p.revision, ip: at } },
      }),
    )
      .then((r) => {
        if (!stale) remedies = r.remedies;
      })
      .catch((error: unknown) => w.tell(error));
    return () => {
      stale = true;
    };
  });

  const apply = (edit: Edit) => w.apply(edit);
  const move = (to: { chainage_m?: number; level_m?: number }) =>
    apply({
      what: 'move',
      ip: i,
      chainage_m: to.chainage_m ?? ip!.chainage_m,
      level_m: to.level_m ?? ip!.level_m,
      slide: false,
    });
</script>

{#if ip}
  <div class="card-head">
    <b>{name}{kind ? `, ${kind}` : ''}</b>
    <span class="faint">{inner ? `of ${last - 1}` : ''}</span>
    <span class="grow"></span>
    <button class="btn btn-xs" disabled={i === 0} onclick={() => w.select(i - 1)} title="Previous IP ( [ )">Back</button
    >
    <button class="btn btn-xs" disabled={i === last} onclick={() => w.select(i + 1)} title="Next IP ( ] )">Next</button>
    {#if inner}
      <button class="btn btn-xs" onclick={() => void apply({ what: 'delete', ip: i })} title="Delete this IP (Del)"
        >Delete</button
      >
    {/if}
  </div>
  {#key w.selected}
    <div class="fields">
      <NumberField
        id="ip-chainage"
        label="chainage"
        value={ip.chainage_m}
        kind="chainage"
        unit="m"
        show={(v) => chainage(v)}
        disabled={!inner}
        take={(v) => move({ chainage_m: v! })}
      />
      <NumberField
        id="ip-level"
        label="level"
        value={ip.level_m}
        kind="length"
        unit="m"
        hint={above}
        show={(v) => fixed(v, 3)}
        take={(v) => move({ level_m: v! })}
      />
      {#if inner}
        <NumberField
          id="ip-grade-in"
          label="grade in"
          value={ip.grade_in}
          kind="grade"
          unit="%"
          show={(v) => signed(100 * v, 3)}
          take={(v) => apply({ what: 'grade', ip: i, grade: v!, side: 'in' })}
        />
        <NumberField
          id="ip-grade-out"
          label="grade out"
          value={ip.grade_out}
          kind="grade"
          unit="%"
          hint={`A ${grade(Math.abs(ip.change_of_grade))}`}
          show={(v) => signed(100 * v, 3)}
          take={(v) => apply({ what: 'grade', ip: i, grade: v!, side: 'out' })}
        />
        <NumberField
          id="ip-length"
          label="curve length"
          value={ip.curve_length_m}
          kind="length"
          unit="m"
          hint={`room ${fixed(ip.room_m, 1)}`}
          show={(v) => fixed(v, 2)}
          take={(v) => apply({ what: 'length', ip: i, curve_length_m: v! })}
        />
        <NumberField
          id="ip-k"
          label="K"
          value={ip.k_m_per_pct}
          kind="number"
          unit="m/%"
          hint={ip.k_m_per_pct === null ? 'no bend' : `${needs}${ip.held_k_m_per_pct ? ', held' : ''}`}
          show={(v) => fixed(v, 1)}
          take={(v) => apply({ what: 'k', ip: i, k_m_per_pct: v! })}
        />
        <div class="longest">
          <button
            class="btn btn-xs"
            disabled={ip.room_m <= 0}
            onclick={() => void apply({ what: 'length', ip: i, curve_length_m: Math.floor(ip.room_m * 1000) / 1000 })}
          >
            Longest curve there is room for
          </button>
        </div>
      {/if}
    </div>
  {/key}
  {#if w.draft && w.figures?.stopped}
    <p class="stopped" role="status"><b>Stopped here.</b> {w.figures.stopped}</p>
  {/if}
  {#each findings as u (u.check)}
    <div class="failure-box" role="alert"><b>{u.name}</b><br />{u.sentence}</div>
  {/each}
  {#each remedies as r (r.label)}
    <button class="btn btn-sm remedy" onclick={() => void apply(r.edit)}>
      <span>{r.label}</span><span class="num">{signedWhole(r.cost_change)} {w.project?.cost?.currency}</span>
    </button>
  {/each}
{:else}
  <div class="card-head"><b>No IP selected</b></div>
  {#if w.findings.length}
    {#each w.findings.slice(0, 4) as u (`${u.check} ${u.from_chainage_m}`)}
      <button
        class="failure-box found"
        onclick={() => {
          if (u.check.startsWith('no_')) w.setPlumb(u.from_chainage_m);
          else w.select(u.ip);
        }}
      >
        <b>{u.name}</b><br />{u.sentence}
      </button>
    {/each}
    {#if w.findings.length > 4}<p class="faint">and {w.findings.length - 4} more</p>{/if}
  {:else if w.figures}
    <p>Nothing fails on this line.</p>
  {/if}
  <p class="faint">
    Drag a square handle to move an IP, double-click to add one. Keys: <kbd>[</kbd> <kbd>]</kbd> choose, arrows nudge,
    <kbd>?</kbd> lists them all.
  </p>
{/if}

<style>
  .card-head {
    display: flex;
    align-items: center;
    gap: 6px;
    min-height: 28px;
  }
  .grow {
    flex: 1;
  }
  .fields {
    --label-width: 78px;
    display: flex;
    flex-direction: column;
  }
  .longest {
    display: flex;
    justify-content: flex-end;
    margin: 2px 0 4px;
  }
  .stopped {
    border-left: 4px solid var(--ink-caution);
    padding: 4px 8px;
    margin: 4px 0;
  }
  .failure-box {
    margin: 4px 0;
  }
  .found {
    display: block;
    width: 100%;
    text-align: left;
    cursor: pointer;
  }
  .remedy {
    display: flex;
    width: 100%;
    justify-content: space-between;
    margin-top: 4px;
  }
  p {
    margin: 6px 0;
  }
</style>
