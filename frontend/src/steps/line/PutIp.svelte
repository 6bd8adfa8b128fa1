<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import type { Edit } from '../../api/client';
  import type { DimensionName } from '../../api/fields';
  import Field from '../../lib/fields/Field.svelte';
  import { useWork } from '../../lib/state/work.svelte';

  // Ways to put an IP by numbers.
  const w = useWork();
  type How = 'place' | 'on_grade' | 'length' | 'meet' | 'at_ground' | 'split';
  let how = $state<How>('place');
  let refused = $state<string | null>(null);
  const last = $derived(w.ips.length - 1);
  const from = $derived(w.selection.ip ?? 0);
  const called = (i: number) => (i === 0 ? 'the start' : i === last ? 'the end' : `IP ${i}`);
  const HOWS: [How, string][] = $derived([
    ['place', 'at a level'],
    ['on_grade', `on a grade from ${called(from)}`],
    ['length', `so far from ${called(from)}`],
    ['meet', `grades meet, from ${called(from)}`],
    ['at_ground', 'at the ground'],
    ['split', 'on the line as it is'],
  ]);

  let values = $state<Record<string, number | null>>({});
  // What was typed was meant from another IP.
  $effect(() => {
    void from;
    values = {};
    refused = null;
  });
  interface Asked {
    key: string;
    label: string;
    dimension: DimensionName;
    first: number;
    aside?: string;
  }
  const near = $derived(w.ips[from] ?? null);
  const at: Asked = $derived({ key: 'at', label: 'chainage', dimension: 'chainage', first: w.selection.plumb });
  const out: Asked = $derived({
    key: 'grade_out',
    label: 'grade out',
    dimension: 'exact_grade',
    first: near?.grade_out ?? 0,
  });
  const asked: Asked[] = $derived.by(() => {
    switch (how) {
      case 'place':
        return [at, { key: 'level', label: 'level', dimension: 'level' as const, first: near?.level_m ?? 0 }];
      case 'on_grade':
        return [at, { ...out, label: 'grade' }];
      case 'length':
        return [
          { key: 'length', label: 'length', dimension: 'plan' as const, first: 100, aside: 'below 0: back' },
          { ...out, label: 'grade' },
        ];
      case 'meet':
        return [
          out,
          { key: 'to', label: 'up to IP', dimension: 'count' as const, first: Math.min(from + 1, last) },
          {
            key: 'grade_in',
            label: 'grade in',
            dimension: 'exact_grade' as const,
            first: w.ips[Math.min(from + 1, last)]?.grade_in ?? 0,
          },
        ];
      case 'at_ground':
        return [
          at,
          { key: 'above', label: 'above it', dimension: 'level' as const, first: 0, aside: 'below 0: under it' },
        ];
      case 'split':
        return [at];
    }
  });
  const value = (key: string) => values[key] ?? asked.find((f) => f.key === key)?.first ?? 0;

  function edit(): Edit {
    switch (how) {
      case 'place':
        return { what: 'add', chainage_m: value('at'), level_m: value('level') };
      case 'on_grade':
        return { what: 'on_grade', ip: from, chainage_m: value('at'), grade: value('grade_out') };
      case 'length': {
        const chainage_m = (near?.chainage_m ?? 0) + value('length');
        return { what: 'on_grade', ip: from, chainage_m, grade: value('grade_out') };
      }
      case 'meet':
        return { what: 'meet', ip: from, to: value('to'), grade_out: value('grade_out'), grade_in: value('grade_in') };
      case 'at_ground':
        return { what: 'at_ground', chainage_m: value('at'), above_m: value('above') };
      case 'split':
        return { what: 'split', chainage_m: value('at') };
    }
  }

  async function put(): Promise<void> {
    refused = await w.apply(edit());
    if (!refused) values = {};
  }
</script>

<details class="fold put">
  <summary>Put an IP by numbers</summary>
  <div class="row">
    <label for="put-how">where</label>
    <select
      id="put-how"
      class="select select-sm"
      bind:value={how}
      onchange={() => {
        values = {};
        refused = null;
      }}
    >
      {#each HOWS as [id, says] (id)}<option value={id}>{worded(says)}</option>{/each}
    </select>
  </div>
  {#each asked as field (how + field.key)}
    <Field
      id={`put-${field.key}`}
      label={field.label}
      value={values[field.key] ?? field.first}
      dimension={field.dimension}
      aside={field.aside}
      take={(v) => {
        values[field.key] = v as number;
        return null;
      }}
    />
  {/each}
  <button class="btn btn-sm" onclick={() => void put()}>Put it</button>
  {#if refused}<p class="failure" role="alert">{refused}</p>{/if}
</details>

<style>
  p {
    margin: 2px 0 4px;
    font-size: 12.5px;
  }
</style>
