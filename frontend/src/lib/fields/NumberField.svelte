<script lang="ts">
  import { NotUnderstood, parse, type Kind } from '../parse';

  interface Props {
    id: string;
    label: string;
    value: number | null;
    kind: Kind;
    unit: string;
    show: (value: number) => string;
    /** Take the value; answers with the reason where it is refused. */
    take: (value: number | null) => Promise<string | null> | string | null;
    /** An empty field means "left free". */
    optional?: boolean;
    hint?: string;
    disabled?: boolean;
    bare?: boolean;
  }
  let { id, label, value, kind, unit, show, take, optional, hint, disabled, bare }: Props = $props();
  let text = $state<string | null>(null);
  let reason = $state<string | null>(null);

  const shown = $derived(text ?? (value === null ? '' : show(value)));
  // A new value from outside ends a bad one that was left standing; figures that come in anew with the
  // same value must not: they would drop what is just being typed.
  let last: number | null | undefined;
  $effect(() => {
    if (value === last) return;
    last = value;
    text = null;
    reason = null;
  });

  async function commit(): Promise<void> {
    if (text === null) return;
    const typed = text.trim();
    if (value !== null && typed === show(value)) return reset();
    try {
      const understood = optional && typed === '' ? null : parse(typed, kind);
      if (understood === value) return reset();
      reason = await take(understood);
      if (reason === null) reset();
    } catch (error) {
      reason = error instanceof NotUnderstood ? error.message : String(error);
    }
  }

  function reset(): void {
    text = null;
    reason = null;
  }

  function key(e: KeyboardEvent): void {
    if (e.key === 'Enter') void commit();
    else if (e.key === 'Escape' && text !== null) {
      reset();
      e.stopPropagation();
    }
  }
</script>

<div class="row" class:bare>
  {#if !bare}<label for={id}>{label}</label>{/if}
  <input
    {id}
    class="field num"
    {disabled}
    value={shown}
    placeholder={optional ? 'free' : ''}
    aria-label={bare ? label : undefined}
    aria-invalid={reason !== null}
    aria-describedby={reason ? `${id}-why` : undefined}
    autocomplete="off"
    oninput={(e) => (text = e.currentTarget.value)}
    onblur={() => void commit()}
    onkeydown={key}
    onfocus={(e) => e.currentTarget.select()}
  />
  {#if !bare}<span class="unit faint">{unit}{hint ? `, ${hint}` : ''}</span>{/if}
  {#if reason}<p class="failure" id={`${id}-why`}>{reason}</p>{/if}
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: var(--label-width, 108px) 88px minmax(0, 1fr);
    align-items: center;
    gap: 0 8px;
    min-height: 28px;
  }
  .unit {
    font-size: 12px;
  }
  .bare {
    display: block;
  }
  p {
    grid-column: 1 / -1;
    margin: 2px 0 4px;
    font-size: 12.5px;
  }
</style>
