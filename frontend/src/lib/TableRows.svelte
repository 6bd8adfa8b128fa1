<script lang="ts">
  import type { Schemas } from '../api/client';
  import { fixed } from './format';

  // The rows of a table that the server made: numbers with the digits of their column.
  let { shown, label }: { shown: Schemas['TableOut']; label: string } = $props();
  /** The station says on screen what files have as a number besides. */
  const columns = $derived(
    shown.columns
      .map((c, k) => ({ ...c, k }))
      .filter((c) => c.k === 0 || !/^(chainage|station) (m|ft)/.test(c.heading)),
  );
  const cell = (v: string | number | null, digits: number | null) =>
    typeof v === 'number' ? fixed(v, Math.min(digits ?? 0, 4)) : (v ?? '');
</script>

<table class="sheet num" aria-label={label}>
  <thead>
    <tr>
      {#each columns as { heading, k } (k)}<th scope="col">{heading}</th>{/each}
    </tr>
  </thead>
  <tbody>
    {#each shown.rows as row, i (i)}
      <tr>
        {#each columns as { k, digits } (k)}
          <td class:words={typeof row[k] === 'string'} title={k === 0 ? String(row[k] ?? '') : undefined}
            >{cell(row[k]!, digits)}</td
          >
        {/each}
      </tr>
    {/each}
  </tbody>
</table>

<style>
  td {
    white-space: nowrap;
  }
  .words {
    text-align: left;
    max-width: var(--widest-words, 130px);
    overflow: hidden;
    text-overflow: ellipsis;
  }
</style>
