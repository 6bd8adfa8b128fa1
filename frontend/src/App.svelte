<script lang="ts">
  import ProjectsPage from './steps/projects/ProjectsPage.svelte';
  import { asideIn } from './lib/address';
  import SheetPage from './SheetPage.svelte';
  import SummaryPage from './SummaryPage.svelte';
  import WorkspacePage from './WorkspacePage.svelte';

  let at = $state.raw(asideIn(location.hash));
</script>

<svelte:window onhashchange={() => (at = asideIn(location.hash))} />
{#if at.project && at.summary}
  <SummaryPage id={at.project} slot={at.summary} />
{:else if at.project && at.sheet}
  <SheetPage id={at.project} slot={at.sheet.slot} sheet={at.sheet.name} />
{:else if at.project}
  {#key at.project}
    <WorkspacePage id={at.project} />
  {/key}
{:else}
  <ProjectsPage onopen={(id) => (location.hash = `#/projects/${id}`)} />
{/if}
