<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { figure, show } from '../../lib/units';
  import type { Edit, Ip, Schemas } from '../../api/client';
  import { changeRows } from '../../lib/state/rows';
  import { sameCase } from '../../lib/state/figures.svelte';
  import RowsForm from '../../lib/fields/RowsForm.svelte';
  import Field from '../../lib/fields/Field.svelte';
  import { grade, signedWhole, ipName } from '../../lib/format';
  import { valueAt } from '../../lib/lookup';
  import { useWork } from '../../lib/state/work.svelte';
  import Compared from './Compared.svelte';
  import CurveFields from './CurveFields.svelte';
  import Findings from './Findings.svelte';
  import FromProfile from './FromProfile.svelte';
  import Levels from './Levels.svelte';
  import Locks from './Locks.svelte';
  import PutIp from './PutIp.svelte';
  import WaysOn from './WaysOn.svelte';

  const w = useWork();
  const i = $derived(w.selection.ip ?? 0);
  const ip = $derived(w.ip);
  const last = $derived(w.ips.length - 1);
  const inner = $derived(i > 0 && i < last);
  const kind = $derived(!ip || !inner || ip.change_of_grade === 0 ? '' : ip.change_of_grade < 0 ? 'crest' : 'sag');
  const name = $derived(ipName(i, last));
  const findings = $derived(w.findings.filter((u) => u.ip === i && u.place === 'ip'));
  const needs = $derived.by(() => {
    if (!kind) return '';
    // What the checks ask of this curve, ranges and kinds of K with it: one source for card and list.
    const asked = (w.shownFigures?.products.uses?.uses ?? []).filter(
      (u) => u.ip === i && /^(crest|sag)_k/.test(u.check),
    );
    return asked.length ? `needs ${show('k', Math.max(...asked.map((u) => u.limit)))}` : '';
  });
  const above = $derived.by(() => {
    const t = w.still;
    if (!t || !ip) return '';
    const ground = valueAt(t.arrays.ground_chainage!, t.arrays.ground_level!, ip.chainage_m);
    if (Number.isNaN(ground)) return 'no ground';
    return `${figure('length', Math.abs(ip.level_m - ground))} ${ip.level_m < ground ? 'below' : 'above'} ground`;
  });
  // What would mend it follows once the hand lets go; of another case it would mend another line.
  const remedies = $derived(
    sameCase(w.figures.after?.of ?? null, w.case)
      ? (w.figures.after!.products.remedies ?? []).filter(
          (r) => r.ip === i && findings.some((u) => r.checks.includes(u.check)),
        )
      : [],
  );

  // Which of the two IPs of a typed grade moves up or down.
  let other = $state(false);
  let more = $state(false);
  const locked = $derived(
    [
      ip?.locked_chainage_m != null && 'chainage',
      ip?.locked_level_m != null && 'level',
      w.ips[i - 1]?.locked_grade != null && 'grade in',
      ip?.locked_grade != null && 'grade out',
    ]
      .filter((what) => what)
      .map((what) => worded(String(what)))
      .join(', '),
  );
  /** Of a circle; of a parabola 100 K, where that is wished. */
  const radius = $derived(ip?.radius_m ?? (w.written.long('radius') && ip?.k_m_per_pct ? 100 * ip.k_m_per_pct : null));
  /** Its curve with this radius, kept from now on. */
  const keepsRadius = ({ shape, in_share, step_m, curve_length_m }: Ip, r: number): Edit => ({
    ...{ what: 'curve', ip: i, shape, in_share, step_m, curve_length_m, held: 'radius', held_m: r },
    ...{ held_k_m_per_pct: null, held_level_m: null },
  });
  const moves = () => (other ? 'other' : 'this');

  /** A label of the line at the plumb line. */
  const labelHere = () =>
    changeRows<Schemas['Note']>(w, 'notes', 'the label', (rows) => [
      ...rows,
      { chainage_m: w.selection.plumb, words: '', label: 'line', road: w.road!.slot },
    ]);

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
      <button class="btn btn-xs" onclick={() => w.act(apply({ what: 'delete', ip: i }))} title="Delete this IP (Del)"
        >Delete</button
      >
    {/if}
  </div>
  <WaysOn />
  {#key w.selection.ip}
    <div class="fields">
      <Field
        id="ip-chainage"
        label="chainage"
        value={ip.chainage_m}
        dimension="chainage"
        disabled={!inner}
        take={(v) => move({ chainage_m: v as number })}
      />
      <Field
        id="ip-level"
        label="level"
        value={ip.level_m}
        dimension="level"
        aside={above}
        take={(v) => move({ level_m: v as number })}
      />
      {#if inner}
        <Field
          id="ip-grade-in"
          label="grade in"
          value={ip.grade_in}
          dimension="exact_grade"
          take={(v) => apply({ what: 'grade', ip: i, grade: v as number, side: 'in', moves: moves() })}
        />
        <Field
          id="ip-grade-out"
          label="grade out"
          value={ip.grade_out}
          dimension="exact_grade"
          aside={`A ${grade(Math.abs(ip.change_of_grade))}`}
          take={(v) => apply({ what: 'grade', ip: i, grade: v as number, side: 'out', moves: moves() })}
        />
        <Field
          id="ip-length"
          label="curve length"
          value={ip.curve_length_m}
          dimension="length"
          aside={`room ${figure('length', ip.room_m, 1)}`}
          take={(v) => apply({ what: 'length', ip: i, curve_length_m: v as number })}
        />
        <Field
          id="ip-k"
          label="K"
          value={ip.k_m_per_pct}
          dimension="k"
          shows={(v) => figure('k', v, 1)}
          aside={ip.k_m_per_pct === null ? 'no bend' : needs}
          take={(v) => apply({ what: 'k', ip: i, k_m_per_pct: v as number })}
        />
        {#if radius !== null}
          <Field
            id="ip-r"
            label={ip.shape === 'circle' ? 'R' : 'R, 100 K'}
            value={radius}
            dimension="length"
            shows={(v) => figure('length', v, 1)}
            take={(v) => apply(keepsRadius(ip!, v as number))}
          />
        {/if}
        <CurveFields {ip} at={i} {apply} />
      {/if}
    </div>
  {/key}
  {#if w.trial.draft && w.shownFigures?.stopped}
    <p class="stopped" role="status"><b>Stopped here.</b> {w.shownFigures.stopped}</p>
  {/if}
  {#each findings as u, k (k)}
    <div class={u.advice ? 'advice-box' : 'failure-box'} role="alert"><b>{u.name}</b><br />{u.sentence}</div>
  {/each}
  {#each remedies as r, k (k)}
    <button class="btn btn-sm remedy" onclick={() => w.act(apply(r.edit as unknown as Edit))}>
      <span
        >{r.label}{#each r.breaks.slice(0, 2) as what (what)}<span class="failure breaks">✕ breaks {what}</span
          >{/each}</span
      ><span class="num">{signedWhole(r.cost_change)} {w.project?.cost?.currency}</span>
    </button>
  {/each}
  <details class="fold more" bind:open={more}>
    <summary
      >More: locks, a new IP from here{#if locked}<span class="faint">, locked: {locked}</span>{/if}</summary
    >
    <Locks {ip} at={i} />
    {#if inner}
      <label class="other" title="A typed grade moves the IP at its other end up or down, and this one stays">
        <input type="checkbox" class="checkbox checkbox-xs" bind:checked={other} />a typed grade moves the neighbour
      </label>
    {/if}
    <PutIp />
  </details>
{:else}
  <div class="card-head"><b>No IP selected</b></div>
  <Compared />
  <WaysOn />
  <Findings most={4} />
  <PutIp />
  <Levels />
  <FromProfile />
  <h2>Notes and labels along the road</h2>
  <RowsForm
    kind="notes"
    label="Notes"
    only={(note) => note.road === w.road?.slot}
    without={['road']}
    fresh={() => ({ chainage_m: w.selection.plumb, words: 'note', label: 'words', road: w.road!.slot })}
  />
  <button
    class="btn btn-xs"
    title={worded('Chainage and level of the line at the plumb line, written there and kept')}
    onclick={() => w.act(labelHere())}>Label the line here</button
  >
  <p class="faint">
    Drag a square handle to move an IP, double-click to add one. Keys: <kbd>[</kbd> <kbd>]</kbd> choose, arrows nudge,
    <kbd>?</kbd> lists them all.
  </p>
{/if}

<style>
  .breaks {
    display: block;
  }
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
    --label-width: 76px;
    --field-width: 92px;
    display: flex;
    flex-direction: column;
  }
  .more .faint {
    font-weight: 400;
  }
  .other {
    display: flex;
    align-items: center;
    gap: 4px;
    min-height: 26px;
    cursor: pointer;
  }
  .stopped {
    border-left: 4px solid var(--ink-caution);
    padding: 4px 8px;
    margin: 4px 0;
  }
  .failure-box {
    margin: 4px 0;
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
