<script lang="ts">
  import { worded } from '../system.svelte';
  import type { DimensionName } from '../../api/fields';
  import { NotUnderstood } from '../parse';
  import { show, understand, unitOf, type Value } from '../units';

  interface Props {
    id: string;
    label: string;
    value: Value | null;
    dimension: DimensionName;
    /** What follows the unit. */
    aside?: string;
    /** Another unit than the dimension's, as a currency. */
    unit?: string;
    says?: string;
    /** Another way to show the value than the dimension's. */
    shows?: (value: number) => string;
    /** Take the value; answers with the reason where it is refused. */
    take: (value: Value | null) => Promise<string | null> | string | null;
    /** An empty field means "left free". */
    optional?: boolean;
    /** What stands in an empty field that is left free. */
    free?: string;
    disabled?: boolean;
    /** A list of what can be chosen, and what is told of each letter typed. */
    list?: string;
    typing?: (text: string) => void;
  }
  let {
    id,
    label,
    value,
    dimension,
    aside,
    unit,
    says,
    shows,
    take,
    optional,
    free = 'free',
    disabled,
    list,
    typing,
  }: Props = $props();
  let text = $state<string | null>(null);
  let reason = $state<string | null>(null);
  let sending = $state(false);

  const written = (v: Value) => (shows && typeof v === 'number' ? shows(v) : show(dimension, v));
  const shown = $derived(text ?? (value === null ? '' : written(value)));
  const behind = $derived([unit ?? unitOf(dimension), aside && worded(aside)].filter((part) => part).join(', '));
  // A new value from outside ends a bad one that was left standing; figures that come in anew with the
  // same value must not: they would drop what is just being typed.
  let last: Value | null | undefined;
  $effect(() => {
    if (value === last) return;
    last = value;
    if (sending) return;
    text = null;
    reason = null;
  });

  async function commit(): Promise<void> {
    const typed = text;
    if (typed === null || sending) return;
    if (value !== null && typed.trim() === written(value)) return reset();
    try {
      const understood = optional && typed.trim() === '' ? null : understand(dimension, typed);
      if (understood === value) return reset();
      // What was typed stands here until it is saved, or refused with a reason.
      sending = true;
      const why = await take(understood);
      sending = false;
      if (text !== typed) return;
      reason = why;
      if (why === null) reset();
    } catch (error) {
      sending = false;
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

<div class="row">
  <label for={id} title={says && worded(says)}>{worded(label)}</label>
  <input
    {id}
    class="field num"
    {disabled}
    value={shown}
    placeholder={optional ? free : ''}
    aria-invalid={reason !== null}
    aria-describedby={reason ? `${id}-why` : undefined}
    autocomplete="off"
    data-touched={text !== null ? 'yes' : undefined}
    {list}
    oninput={(e) => {
      text = e.currentTarget.value;
      typing?.(text);
    }}
    onblur={() => void commit()}
    onkeydown={key}
    onfocus={(e) => e.currentTarget.select()}
  />
  <span class="unit faint">{behind}</span>
  {#if reason}<p class="failure" id={`${id}-why`}>{reason}</p>{/if}
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: var(--label-width, 108px) var(--field-width, 88px) minmax(0, 1fr);
    align-items: center;
    gap: 0 6px;
    min-height: 28px;
  }
  .unit {
    font-size: 12px;
    white-space: nowrap;
  }
  p {
    grid-column: 1 / -1;
    margin: 2px 0 4px;
    font-size: 12.5px;
  }
</style>
