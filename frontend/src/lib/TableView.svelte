<script lang="ts">
  import { tableAddress, tableShown, tableText } from './state/asked';
  import { worded } from './system.svelte';
  import type { Schemas } from '../api/client';
  import { TABLES, type TableName } from '../api/fields';
  import { whole } from './format';
  import TableRows from './TableRows.svelte';
  import { useWork } from './state/work.svelte';

  // A table of the saved centreline, or of a grade line over it: its first rows, and all of it as a file or on the clipboard.
  type Wish = { interval_m?: number; critical?: boolean; offsets?: string; slot?: string };
  let { table, wish = {} }: { table: TableName; wish?: Wish } = $props();
  const w = useWork();
  let shown = $state.raw<Schemas['TableOut'] | null>(null);
  let problem = $state<string | null>(null);
  const revision = $derived(w.project?.revision ?? 0);
  const ready = $derived(w.road !== null);

  const asked = $derived({ revision, road: w.road?.slot, ...wish });
  $effect(() => {
    if (!ready) return;
    let mine = true;
    tableShown(w.project!.id, table, asked)
      .then((found) => mine && ([shown, problem] = [found, null]))
      .catch((error: unknown) => mine && (problem = error instanceof Error ? error.message : String(error)));
    return () => (mine = false);
  });

  const address = (form: 'csv' | 'xlsx') => tableAddress(w.project!.id, table, form, asked);

  async function copy(): Promise<void> {
    try {
      await navigator.clipboard.writeText(await tableText(w.project!.id, table, asked));
      w.notices.say(`${whole(shown?.count ?? 0)} rows are on the clipboard.`);
    } catch (error) {
      w.notices.tell(error);
    }
  }
</script>

{#if !ready}<p class="faint">Save the centreline first.</p>
{:else if problem}<div class="failure-box" role="alert">{problem}</div>
{:else if shown}
  <div class="buttons">
    {#if w.drawing.dirty}<span class="faint">as saved</span>{/if}
    <button class="btn btn-xs" onclick={() => void copy()}>Copy</button>
    <a class="btn btn-xs" href={address('csv')} download>CSV</a>
    <a class="btn btn-xs" href={address('xlsx')} download>XLSX</a>
    <span class="faint">{whole(shown.count)} rows</span>
  </div>
  <div class="pane">
    <TableRows {shown} label={worded(TABLES.find((t) => t.name === table)!.title)} />
    {#if shown.count > shown.rows.length}
      <p class="faint">The first {whole(shown.rows.length)} rows; files have all of them.</p>
    {/if}
  </div>
{/if}

<style>
  .buttons {
    display: flex;
    gap: 6px;
    align-items: center;
    margin: 4px 0;
  }
  .pane {
    flex: 1;
    overflow: auto;
    min-height: 90px;
  }
</style>
