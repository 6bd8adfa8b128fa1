<script lang="ts">
  import { changeInput } from '../state/rows';
  import type { Project } from '../../api/client';
  import { INPUTS, type DimensionName } from '../../api/fields';
  import { worded } from '../system.svelte';
  import { unitOf, type Value } from '../units';
  import { useWork } from '../state/work.svelte';
  import Choice from './Choice.svelte';
  import Field from './Field.svelte';

  /** Kinds of input that are put as a whole; the server has one address for each. */
  type Kind = 'limits' | 'works' | 'strata' | 'reserve' | 'cost' | 'bends' | 'truck' | 'superelevation';
  interface Meant {
    name: string;
    dimension: DimensionName;
    label: string;
    aside: string;
    says: string;
    optional: boolean;
    choices: readonly string[];
    group: string;
  }
  interface Props {
    kind: Kind;
    /** Which of its forms, where it has several. */
    group?: string;
    /** Fields that stand elsewhere. */
    without?: string[];
    /** What to do beside saving a field, as offering what goes with it. */
    ontaken?: (name: string, value: Value | null) => void;
  }
  let { kind, group = '', without = [], ontaken }: Props = $props();
  const w = useWork();
  const fields = $derived(
    (INPUTS[kind] as readonly Meant[]).filter((f) => f.group === group && !without.includes(f.name)),
  );
  const input = $derived(w.project?.[kind] as Record<string, Value | null> | null | undefined);
  const PRICES: Partial<Record<DimensionName, true>> = { price_m3: true, price_m2: true, price_haul: true };

  /** Only this field changes: what somebody else has saved of the others meanwhile stays. */
  async function take(name: string, label: string, value: Value | null): Promise<string | null> {
    const why = await changeInput(w, kind, `“${label}”`, (now) => ({ ...now, [name]: value }));
    if (why === null) ontaken?.(name, value);
    return why;
  }

  function unit(f: Meant, project: Project | null): string | undefined {
    if (!PRICES[f.dimension]) return undefined;
    return `${project?.cost?.currency ?? ''} ${unitOf(f.dimension)}`;
  }
</script>

{#if input}
  {#each fields as f (f.name)}
    {#if f.choices.length}
      <Choice
        id={`${kind}-${f.name}`}
        label={f.label}
        value={String(input[f.name] ?? '')}
        choices={f.choices}
        says={f.says}
        take={(v) => take(f.name, f.label, v)}
      />
    {:else if f.dimension === 'flag'}
      <label class="flag" title={worded(f.says)}
        ><input
          type="checkbox"
          id={`${kind}-${f.name}`}
          class="checkbox checkbox-xs"
          checked={Boolean(input[f.name])}
          onchange={(e) => w.act(take(f.name, f.label, e.currentTarget.checked as unknown as Value))}
        />{worded(f.label)}</label
      >
    {:else}
      <Field
        id={`${kind}-${f.name}`}
        label={f.label}
        value={input[f.name] ?? null}
        dimension={f.dimension}
        aside={f.aside}
        unit={unit(f, w.project)}
        says={f.says}
        optional={f.optional}
        take={(v) => take(f.name, f.label, v)}
      />
    {/if}
  {/each}
{/if}

<style>
  .flag {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 28px;
    font-size: 13px;
  }
</style>
