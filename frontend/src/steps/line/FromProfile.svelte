<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { told } from '../../lib/units';
  import { untrack } from 'svelte';
  import { READERS } from '../../api/fields';
  import type { Schemas } from '../../api/client';
  import { readProfile } from '../../lib/state/files';
  import Field from '../../lib/fields/Field.svelte';
  import { chainage } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';

  // A new grade line from a profile of a file, as it is or fitted within a deviation.
  const w = useWork();
  type Read = Schemas['ProfilesOut'];
  let file = $state.raw<File | null>(null);
  let found = $state.raw<Read | null>(null);
  let which = $state<number | null>(null);
  let fitted = $state(false);
  let curves = $state(false);
  let deviation = $state(0.05);
  let exaggeration = $state(1);
  let originChainage = $state(0);
  let originLevel = $state(0);
  /** What a table's numbers are, where that was said. */
  let unit = $state<Read['unit']>(null);
  const UNITS = [
    ['metre', 'metres'],
    ['foot', 'feet'],
    ['us_survey_foot', 'US survey feet'],
  ] as const;
  let busy = $state(false);
  let problem = $state<string | null>(null);
  const readers = READERS.filter((r) => r.makes === 'profile');
  const suffixes = [...new Set(readers.flatMap((r) => r.suffixes))].join(',');
  const drawn = $derived(/\.dxf$/i.test(file?.name ?? ''));

  async function read(): Promise<void> {
    if (!file || !w.project) return;
    busy = true;
    problem = null;
    const wish = {
      exaggeration,
      origin_chainage_m: originChainage,
      origin_level_m: originLevel,
      which,
      unit,
      curves,
      deviation_m: fitted ? deviation : null,
    };
    try {
      found = await readProfile<Read>(w, file, wish);
      if (found.made === null && which === null) which = 0;
    } catch (error) {
      found = null;
      problem = error instanceof Error ? error.message : String(error);
    }
    busy = false;
  }
  // Whatever is chosen otherwise is read anew.
  $effect(() => {
    void [file, which, fitted, curves, deviation, exaggeration, originChainage, originLevel, unit];
    untrack(() => void read());
  });

  async function make(): Promise<void> {
    const made = found?.made;
    if (!made) return;
    problem = await w.making.adopt(made.name, made.ips);
    if (problem) return;
    if (made.said.length) w.notices.say(made.said.join(' '));
    file = found = which = null;
  }
</script>

<details class="fold from">
  <summary>New line from a profile of a file</summary>
  <input
    type="file"
    class="file-input file-input-sm"
    aria-label="File with a profile"
    accept={suffixes}
    onchange={(e) => {
      which = unit = null;
      file = e.currentTarget.files?.[0] ?? null;
    }}
  />
  {#if !file}
    <p class="faint">
      {worded('A table of chainage and level, a polyline of DXF in profile or in space, or LandXML profiles.')}
    </p>
  {/if}
  {#if found && found.profiles.length > 1}
    <div class="row">
      <label for="profile-which">profile</label>
      <select id="profile-which" class="select select-sm" bind:value={which}>
        {#each found.profiles as p, i (i)}<option value={i}>{p.name}, {p.points} points</option>{/each}
      </select>
    </div>
  {/if}
  {#if found?.unit}
    <div class="row">
      <label for="profile-unit">numbers are</label>
      <select
        id="profile-unit"
        class="select select-sm"
        value={found.unit}
        onchange={(e) => (unit = e.currentTarget.value as Read['unit'])}
      >
        {#each UNITS as [id, name] (id)}<option value={id}>{name}</option>{/each}
      </select>
      <span class="faint">{worded(found.why)}</span>
    </div>
  {/if}
  {#if file}
    {#if drawn}
      <Field
        id="profile-exaggeration"
        label="heights ×"
        value={exaggeration}
        dimension="factor"
        take={(v) => {
          if (!((v as number) >= 0.01)) return 'At least 0.01.';
          exaggeration = v as number;
          return null;
        }}
      />
      <Field
        id="profile-origin"
        label="x 0 is at"
        value={originChainage}
        dimension="plan"
        aside="chainage"
        take={(v) => {
          originChainage = v as number;
          return null;
        }}
      />
      <Field
        id="profile-datum"
        label="y 0 is at"
        value={originLevel}
        dimension="level"
        aside="level"
        take={(v) => {
          originLevel = v as number;
          return null;
        }}
      />
    {/if}
    <label class="ticked">
      <input type="checkbox" class="checkbox checkbox-xs" bind:checked={fitted} />fitted with few IPs and curves
    </label>
    <label class="ticked">
      <input type="checkbox" class="checkbox checkbox-xs" bind:checked={curves} />with curves as the limits ask
    </label>
    {#if fitted}
      <Field
        id="profile-deviation"
        label="within"
        value={deviation}
        dimension="plan"
        take={(v) => {
          if (!((v as number) >= 0.001)) return 'At least a millimetre.';
          deviation = v as number;
          return null;
        }}
      />
    {/if}
  {/if}
  {#if busy}<p class="faint" role="status">Reading…</p>{/if}
  {#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
  {#if found?.made && !busy}
    {@const { ips, deviation_m, said } = found.made}
    <p role="status">
      {ips.length - 2} IPs from {chainage(ips[0]!.chainage_m)} to {chainage(ips.at(-1)!.chainage_m)}{fitted
        ? `, no point further off than ${told('plan', deviation_m)}`
        : ''}. {said.join(' ')}
    </p>
    <button class="btn btn-sm btn-primary" onclick={() => void make()}>Make the line</button>
  {/if}
</details>

<style>
  .ticked {
    display: flex;
    align-items: center;
    gap: 4px;
    min-height: 28px;
    cursor: pointer;
  }
  p {
    margin: 2px 0 4px;
  }
</style>
