<script lang="ts">
  import { worded } from '../system.svelte';

  // A field with a few values to choose from.
  interface Props {
    id: string;
    label: string;
    value: string;
    choices: readonly string[];
    /** What choices are called, where that is not what they are. */
    names?: Record<string, string>;
    says?: string;
    /** Take the value; answers with the reason where it is refused. */
    take: (value: string) => Promise<string | null>;
  }
  let { id, label, value, choices, names = {}, says, take }: Props = $props();
  let reason = $state<string | null>(null);
</script>

<div class="row">
  <label for={id} title={says && worded(says)}>{worded(label)}</label>
  <select
    {id}
    class="select select-sm"
    {value}
    aria-describedby={reason ? `${id}-why` : undefined}
    onchange={async (e) => {
      const list = e.currentTarget;
      reason = await take(list.value);
      if (reason) list.value = value;
    }}
  >
    {#each choices as choice (choice)}<option value={choice}>{names[choice] ?? choice.replaceAll('_', ' ')}</option
      >{/each}
  </select>
  {#if reason}<p class="failure" id={`${id}-why`}>{reason}</p>{/if}
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: var(--label-width, 108px) minmax(0, 160px) minmax(0, 1fr);
    align-items: center;
    gap: 0 6px;
    min-height: 28px;
  }
  p {
    grid-column: 1 / -1;
    margin: 2px 0 4px;
    font-size: 12.5px;
  }
</style>
