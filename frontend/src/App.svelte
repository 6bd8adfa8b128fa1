<script lang="ts">
  import ProjectsPage from './steps/projects/ProjectsPage.svelte';
  import WorkspacePage from './WorkspacePage.svelte';

  const fromHash = () => Number(/^#\/projects\/(\d+)/.exec(location.hash)?.[1] ?? 0) || null;
  let project = $state<number | null>(fromHash());
</script>

<svelte:window onhashchange={() => (project = fromHash())} />
{#if project}
  {#key project}
    <WorkspacePage id={project} />
  {/key}
{:else}
  <ProjectsPage onopen={(id) => (location.hash = `#/projects/${id}`)} />
{/if}
