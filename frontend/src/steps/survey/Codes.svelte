<script lang="ts">
  import { changeInput } from '../../lib/state/rows';
  import type { Schemas } from '../../api/client';
  import { whole } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';

  // What the survey's codes mean: points of a code that is no ground become suspects.
  type Means = Schemas['CodeMeaning']['means'];
  const w = useWork();
  let problem = $state<string | null>(null);
  const codes = $derived(w.land.codes?.key === w.surveyed ? (w.land.codes?.of ?? []) : []);
  const meant = $derived(w.project?.codes?.rows ?? []);
  const WORDS: [Means, string][] = [
    ['ground', 'ground'],
    ['string', 'ground, along a string'],
    ['not_ground', 'no ground'],
  ];

  function open(e: Event): void {
    if ((e.currentTarget as HTMLDetailsElement).open && w.surveyed)
      void w.land.askCodes(w.surveyed).catch((error: unknown) => w.notices.tell(error));
  }

  async function say(code: string, means: string): Promise<void> {
    problem = await changeInput(w, 'codes', `the meaning of “${code}”`, (now) => {
      const others = (now?.rows ?? []).filter((r) => r.code !== code);
      return { rows: means ? [...others, { code, means: means as Means }] : others };
    });
  }
</script>

<details ontoggle={open}>
  <summary>What codes mean</summary>
  {#each codes as c (c.code)}
    <label>
      <b>{c.code}</b>
      <span class="faint num">{whole(c.points)}</span>
      <select
        class="select select-sm"
        aria-label={`${c.code} is`}
        value={meant.find((r) => r.code === c.code)?.means ?? ''}
        onchange={(e) => void say(c.code, e.currentTarget.value)}
      >
        <option value="">{c.no_ground ? 'mostly no ground' : 'ground'}, by its words</option>
        {#each WORDS as [value, says] (value)}<option {value}>{says}</option>{/each}
      </select>
    </label>
  {:else}<p class="faint">The survey has no codes.</p>{/each}
  {#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
</details>

<style>
  summary {
    cursor: pointer;
    min-height: 24px;
  }
  label {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto 150px;
    gap: 8px;
    align-items: center;
    padding: 2px 0;
    overflow-wrap: anywhere;
  }
</style>
