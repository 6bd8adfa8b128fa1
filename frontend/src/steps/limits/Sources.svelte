<script lang="ts">
  import { changeInput } from '../../lib/state/rows';
  import type { Schemas } from '../../api/client';
  import { INPUTS, type DimensionName } from '../../api/fields';
  import Field from '../../lib/fields/Field.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';
  import { told } from '../../lib/units';

  // Where the value of each limit comes from; for one that was changed, from what, and why.
  type Source = Schemas['LimitSource'];
  const w = useWork();
  const limits = $derived(w.project?.limits ?? null);
  const FIELDS = INPUTS.limits.filter((f) => !/^(start|end)_/.test(f.name) && f.choices.length === 0);
  const same = (a: number | null, b: number | null) =>
    a === null || b === null ? a === b : Math.abs(a - b) <= 1e-9 * Math.max(Math.abs(a), 1);

  const rows = $derived(
    FIELDS.flatMap((field) => {
      const value = limits?.[field.name as keyof typeof limits] as number | null | undefined;
      if (value === undefined || (value === null && field.optional)) return [];
      const source = limits!.sources.find((row) => row.name === field.name) ?? null;
      const changed = source !== null && !same(source.value, value);
      return [{ field, value, source, changed }];
    }),
  );
  const shown = (dimension: string, value: number | null) =>
    value === null ? 'free' : told(dimension as DimensionName, value);

  function because(name: string, reason: string): Promise<string | null> {
    return changeInput(w, 'limits', 'the reason', (now) => {
      const fresh: Source = {
        ...{ name, value: null, formula: '', source: '', edition: '', from_memory: false, reason: '' },
      };
      const own = { ...(now.sources.find((row) => row.name === name) ?? fresh), reason };
      return { ...now, sources: [...now.sources.filter((row) => row.name !== name), own] };
    });
  }
</script>

<ul aria-label="Sources of the limits">
  {#each rows as { field, value, source, changed } (field.name)}
    <li>
      <b>{worded(field.label)}</b> <span class="num">{shown(field.dimension, value)}</span>
      {#if source && !changed && source.source}
        <span class="faint"
          >{[source.formula, source.source, source.edition].filter((part) => part).join('; ')}{source.from_memory
            ? ', from memory'
            : ''}</span
        >
      {:else}
        <span class="faint"
          >{changed && source && source.value !== null
            ? `changed from ${shown(field.dimension, source.value)} (${source.source})`
            : 'set in this project'}</span
        >
        <div class="reason">
          <Field
            id={`why-${field.name}`}
            label="because"
            value={source?.reason || null}
            dimension="line"
            optional
            free="the reason"
            take={(v) => because(field.name, String(v ?? ''))}
          />
        </div>
      {/if}
    </li>
  {/each}
</ul>

<style>
  ul {
    margin: 0;
    padding: 0;
    list-style: none;
    font-size: 12.5px;
  }
  li {
    padding: 3px 0;
    border-bottom: 1px solid var(--color-base-300);
  }
  .reason {
    --label-width: 60px;
    --field-width: 210px;
  }
</style>
