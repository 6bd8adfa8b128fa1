<script lang="ts">
  import { typedIps, type Edit, type Ip } from '../../api/client';
  import type { DimensionName } from '../../api/fields';
  import { BY_LIMITS } from '../../lib/curves';
  import Field from '../../lib/fields/Field.svelte';
  import type { Value } from '../../lib/units';

  // The shape of an IP's curve, and what it keeps when its grades change.
  interface Props {
    ip: Ip;
    at: number;
    apply: (edit: Edit) => Promise<string | null>;
  }
  let { ip, at, apply }: Props = $props();
  type Curve = Omit<Extract<Edit, { what: 'curve' }>, 'what' | 'ip'>;
  type Keeps = Ip['held'] | 'k';
  let refused = $state<string | null>(null);

  const shape = $derived(ip.shape === 'circle' ? 'circle' : ip.in_share === null ? 'parabola' : 'two');
  const keeps: Keeps = $derived(ip.held_k_m_per_pct !== null ? 'k' : ip.held);
  const SHAPES = [
    ['parabola', 'parabola'],
    ['two', 'unsymmetrical parabola'],
    ['circle', 'circle'],
  ] as const;
  const KEEPS: [Keeps, string][] = [
    ['length', 'its length'],
    ['k', 'its K'],
    ['radius', 'its radius'],
    ['sight', 'a sight distance'],
    ['start', 'its start'],
    ['end', 'its end'],
    ['through', 'a point it goes through'],
    ['longest', 'the longest there is room for'],
    ...BY_LIMITS,
  ];
  /** Fields of what is kept beside length and K, which stand above. */
  const kept: { key: 'held_m' | 'held_level_m'; label: string; dimension: DimensionName }[] = $derived.by(() => {
    const one = (label: string, dimension: DimensionName) => ({ key: 'held_m' as const, label, dimension });
    switch (keeps) {
      case 'radius':
        return [one('radius', 'length')];
      case 'sight':
        return [one('sight', 'length')];
      case 'start':
        return [one('starts at', 'chainage')];
      case 'end':
        return [one('ends at', 'chainage')];
      case 'through':
        return [one('point at', 'chainage'), { key: 'held_level_m', label: 'its level', dimension: 'level' }];
      default:
        return [];
    }
  });
  const before = $derived(ip.chainage_m - ip.curve_start_m);
  const after = $derived(ip.curve_end_m - ip.chainage_m);

  function set(changes: Partial<Curve>): Promise<string | null> {
    const { curve_length_m, held_k_m_per_pct, shape, in_share, held, held_m, held_level_m, step_m } = typedIps([
      ip,
    ])[0]!;
    const own = { curve_length_m, held_k_m_per_pct, shape, in_share, held, held_m, held_level_m, step_m };
    return apply({ what: 'curve', ip: at, ...own, ...changes });
  }

  async function choose(changes: Partial<Curve>): Promise<void> {
    refused = await set(changes);
  }

  function take(kind: Keeps): void {
    // Without a value what there is now is kept.
    const none = { held_m: null, held_level_m: null, held_k_m_per_pct: null };
    if (kind === 'k') void choose({ ...none, held: 'length', held_k_m_per_pct: ip.k_m_per_pct });
    else void choose({ ...none, held: kind });
  }

  function lengths(first: number, second: number): Promise<string | null> {
    const [total, none] = [first + second, { held_m: null, held_level_m: null, held_k_m_per_pct: null }];
    return set({ ...none, held: 'length', curve_length_m: total, in_share: total > 0 ? first / total : null });
  }
</script>

<div class="row">
  <label for="ip-shape">curve</label>
  <select
    id="ip-shape"
    class="select select-sm"
    value={shape}
    onchange={(e) => {
      const to = e.currentTarget.value;
      void choose({ shape: to === 'circle' ? 'circle' : 'parabola', in_share: to === 'two' ? 0.5 : null });
    }}
  >
    {#each SHAPES as [id, says] (id)}<option value={id}>{says}</option>{/each}
  </select>
</div>
{#if shape === 'two'}
  <Field
    id="ip-length-in"
    label="length in"
    value={before}
    dimension="length"
    take={(v) => lengths(v as number, after)}
  />
  <Field
    id="ip-length-out"
    label="length out"
    value={after}
    dimension="length"
    take={(v) => lengths(before, v as number)}
  />
{/if}
<div class="row">
  <label for="ip-keeps">keeps</label>
  <select
    id="ip-keeps"
    class="select select-sm"
    title="What stays as it is when the grades change"
    value={keeps}
    onchange={(e) => take(e.currentTarget.value as Keeps)}
  >
    {#each KEEPS as [id, says] (id)}<option value={id} disabled={id === 'k' && ip.k_m_per_pct === null}>{says}</option
      >{/each}
  </select>
</div>
{#each kept as field (field.key)}
  <Field
    id={`ip-${field.key}`}
    label={field.label}
    value={ip[field.key]}
    dimension={field.dimension}
    take={(v: Value | null) => set({ [field.key]: v as number })}
  />
{/each}
<Field
  id="ip-step"
  label="rounded to"
  value={ip.step_m}
  dimension="size"
  says="Lengths that are asked for go up to a multiple of this, the longest down; 0 is a millimetre"
  take={(v) => set({ step_m: v as number })}
/>
{#if refused}<p class="failure" role="alert">{refused}</p>{/if}

<style>
  .row {
    display: grid;
    grid-template-columns: var(--label-width, 108px) minmax(0, 1fr);
    align-items: center;
    gap: 0 6px;
    min-height: 28px;
  }
  p {
    margin: 2px 0 4px;
    font-size: 12.5px;
  }
</style>
