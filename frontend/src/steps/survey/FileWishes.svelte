<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import Field from '../../lib/fields/Field.svelte';
  import { megabytes, whole } from '../../lib/format';
  import type { Joins, Wishes } from '../../lib/state/intake.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  import Extent from './Extent.svelte';
  import NotRead from './NotRead.svelte';

  // The file in hand: how much of it is here, what it holds, and how it is to become ground.
  const w = useWork();
  const intake = $derived(w.intake);
  const seen = $derived(intake.seen);
  // Of a large file a part was looked at: how many points there are is known to two figures.
  const guessed = $derived(!!seen && seen.share < 1);
  const points = $derived(guessed ? `about ${whole(Number(seen!.points.toPrecision(2)))}` : whole(seen?.points ?? 0));
  const surveys = $derived(w.project?.surveys ?? []);
  let waits = $state(false);

  const JOINS: [Joins, string][] = [
    ['adds', 'comes beside the ground that is there'],
    ['replaces', 'takes the place of the ground it covers'],
    ['alone', 'is the ground alone: the others go'],
  ];

  function wish(part: Partial<Wishes>): null {
    intake.wishes = { ...intake.wishes, ...part };
    return null;
  }

  function length(of: 'longest_edge_m' | 'within_m' | 'thin_m', value: unknown, zero: boolean): string | null {
    if (typeof value === 'number' && (value < 0 || (value === 0 && !zero)))
      return zero ? 'A length is 0 or more.' : 'It must be more than 0.';
    return wish({ [of]: value as number | null });
  }

  async function accept(): Promise<void> {
    const p = w.project;
    if (!p) return;
    w.trial.flush();
    waits = true;
    await intake.accept(p.id, p.revision);
    waits = false;
  }
</script>

<h2>{intake.name}</h2>
{#if intake.sent && !intake.whole}
  <p role="status">
    {megabytes(intake.sent.received)} of {megabytes(intake.sent.size)} MB are here{waits ? ': it is read then' : ''}…
  </p>
  <progress
    class="progress progress-primary"
    value={intake.sent.received}
    max={intake.sent.size}
    aria-label="Progress of the upload"
  ></progress>
{:else if intake.looking}<p role="status">looking at the file…</p>{/if}
{#if intake.problem}<div class="failure-box" role="alert">{intake.problem}</div>{/if}
{#if seen}
  {#if seen.problem}
    <div class="failure-box" role="alert">{seen.problem}</div>
  {:else}
    <dl class="num facts">
      <dt>points</dt>
      <dd data-item="points">{points}</dd>
      <dt>breaklines</dt>
      <dd>{seen.share < 1 ? 'told when read' : seen.breaklines}</dd>
      <dt>lines not read</dt>
      <dd class:failure={seen.error_count > 0} data-item="errors">
        {seen.error_count}{seen.share < 1 ? ' at the start' : ''}
      </dd>
      <Extent box={seen.box} />
    </dl>
    {#if seen.share < 1}
      <p class="faint">By a part of this large file; all of it is read when you accept.</p>
    {/if}
    {#if seen.crs || seen.vertical}
      <p class="faint">
        The file says: {seen.crs_name}{seen.crs ? ` (${seen.crs})` : ''}{seen.vertical
          ? worded(`, levels above “${seen.vertical}”`)
          : ''}.
      </p>
    {/if}
    {#each seen.doubts as doubt (doubt)}<p class="caution">{doubt}</p>{/each}
    {#if seen.codes.length}
      <p class="faint">codes: {seen.codes.map((c) => (guessed ? c.code : `${c.code} ${whole(c.count)}`)).join(', ')}</p>
    {/if}
    {#if (w.project?.coordinates?.scale_factor ?? 1) !== 1}
      <label class="ticked"
        ><input
          type="checkbox"
          class="checkbox checkbox-sm"
          checked={intake.wishes.on_grid}
          onchange={(e) => wish({ on_grid: e.currentTarget.checked })}
        /> bring it from the grid to the ground</label
      >
    {/if}
    {#if surveys.length}
      <fieldset>
        <legend>This survey</legend>
        {#each JOINS as [value, text] (value)}
          <label
            ><input
              type="radio"
              class="radio radio-sm"
              name="joins"
              {value}
              checked={intake.wishes.joins === value}
              onchange={() => wish({ joins: value })}
            />
            {text}</label
          >
        {/each}
      </fieldset>
    {/if}
    <Field
      id="survey-edge"
      label="longest edge"
      value={intake.wishes.longest_edge_m}
      dimension="size"
      optional
      free={seen.share === 1 ? `${seen.suggested_longest_edge_m}` : 'by points'}
      aside="outside"
      take={(v) => length('longest_edge_m', v, true)}
    />
    <p class="faint">
      Outer triangles with a longer edge are left away, so that bays hold no false ground. Left free it follows from the
      points.
    </p>
    {#if w.project?.centrelines.length}
      <Field
        id="survey-within"
        label="only within"
        value={intake.wishes.within_m}
        dimension="size"
        optional
        free="all of it"
        aside="of the line"
        take={(v) => length('within_m', v, false)}
      />
    {/if}
    <Field
      id="survey-thin"
      label="thin to"
      value={intake.wishes.thin_m}
      dimension="size"
      optional
      free="not"
      aside="in level"
      take={(v) => length('thin_m', v, false)}
    />
    {#if intake.wishes.thin_m !== null}
      <p class="faint">
        {worded(
          'Points are left out where the surface of the others gives their level this well. None of them is off by more.',
        )}
      </p>
    {/if}
  {/if}
  <NotRead errors={seen.errors} count={seen.error_count} />
{/if}
<div class="buttons">
  {#if seen}
    <button
      class="btn btn-primary btn-sm"
      disabled={!!seen.problem || waits || intake.looking}
      onclick={() => void accept()}
    >
      Accept {seen.problem ? '' : `${points} points`}
    </button>
  {/if}
  <button class="btn btn-sm" onclick={() => intake.putAside()}>Put it aside</button>
</div>
<p class="faint">Nothing becomes ground before you accept.</p>

<style>
  h2 {
    overflow-wrap: anywhere;
  }
  fieldset {
    display: grid;
    gap: 4px;
    margin: 8px 0;
  }
  fieldset label {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 24px;
  }
  .buttons {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    margin-top: 8px;
  }
</style>
