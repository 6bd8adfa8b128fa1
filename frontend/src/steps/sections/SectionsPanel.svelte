<script lang="ts">
  import { sheetAddress } from '../../lib/address';
  import { chainage } from '../../lib/format';
  import { changeAlong, freshChange, type SectionChange } from '../../lib/state/along';
  import { useWork } from '../../lib/state/work.svelte';
  import { told } from '../../lib/units';
  import Findings from '../line/Findings.svelte';
  import Quantities from '../section/Quantities.svelte';
  import SectionTables from '../section/SectionTables.svelte';

  // What is said of the section that is looked at, and of all of them.
  const w = useWork();
  const section = $derived(w.figures.section?.of.slot === w.selection.slot ? (w.figures.section?.shown ?? null) : null);
  const amounts = $derived(section?.columns ?? []);

  async function except(): Promise<void> {
    const road = w.road?.slot ?? 'centreline';
    const at = Math.round(w.selection.plumb * 1000) / 1000;
    const fresh: SectionChange = {
      ...freshChange(road, at, at),
      ...{ taper_in_m: 5, taper_out_m: 5, cut_h_over_v: 1, reason: 'exception' },
    };
    const refused = await changeAlong<SectionChange>(w, 'changes', 'an exception', (rows) => [...rows, fresh]);
    if (refused) w.notices.tell(new Error(refused));
    else w.goToStep('along');
  }
</script>

{#if w.line && w.project}
  <p class="faint">
    Walk with <kbd>,</kbd> and <kbd>.</kbd>, pin with <kbd>K</kbd>; click the ground to mend it on the map.
  </p>
  <div class="row">
    <a class="btn btn-xs" href={sheetAddress(w.project.id, 'sections', w.line.slot)}>Sections on paper</a>
    <button class="btn btn-xs" onclick={() => void except()}>Exception here</button>
  </div>
  <h2>Taken at {chainage(w.selection.plumb, 2)}</h2>
  <table class="num">
    <tbody>
      {#each amounts as a (a.id)}
        <tr
          ><th scope="row">{a.name}</th><td
            >{a.unit === 'volume' ? told('section_area', a.amount) : told('length', a.amount)}</td
          ></tr
        >
      {:else}
        <tr><td class="faint">Nothing is built here.</td></tr>
      {/each}
    </tbody>
  </table>
  <h2>Findings</h2>
  <Findings most={8} />
  <h2>What the line takes</h2>
  <Quantities />
  <SectionTables />
{:else}
  <p>Sections follow from a grade line.</p>
  <button class="btn btn-xs" onclick={() => w.goToStep('line')}>Make a first line</button>
{/if}

<style>
  .row {
    display: flex;
    gap: 8px;
  }
  table {
    width: 100%;
    font-size: 12.5px;
  }
  th {
    text-align: left;
    font-weight: 400;
  }
  td {
    text-align: right;
  }
</style>
