<script lang="ts">
  import ProjectsPage from './steps/projects/ProjectsPage.svelte';
  import SummaryPage from './SummaryPage.svelte';
  import WorkspacePage from './WorkspacePage.svelte';

  /** The project, and the grade line whose summary is looked at, as the address says. */
  const fromHash = () => {
    const [, project, summary] = /^#\/projects\/(\d+)(?:\/summary\/(line-\d+))?/.exec(location.hash) ?? [];
    return { project: Number(project ?? 0) || null, summary: summary ?? null };
  };
  let at = $state(fromHash());
</script>

<svelte:window onhashchange={() => (at = fromHash())} />
{#if at.project && at.summary}
  <SummaryPage id={at.project} slot={at.summary} />
{:else if at.project}
  {#key at.project}
    <WorkspacePage id={at.project} />
  {/key}
{:else}
  <ProjectsPage onopen={(id) => (location.hash = `#/projects/${id}`)} />
{/if}
