<script lang="ts">
  import ProjectsPage from './steps/projects/ProjectsPage.svelte';
  import WorkspacePage from './WorkspacePage.svelte';
  import { applyTheme, storedTheme, type Theme } from './lib/theme';

  let theme = $state<Theme>(storedTheme());
  const fromHash = () => Number(/^#\/projects\/(\d+)/.exec(location.hash)?.[1] ?? 0) || null;
  let project = $state<number | null>(fromHash());

  function toggle(): void {
    theme = theme === 'paper' ? 'dusk' : 'paper';
    applyTheme(theme);
  }
</script>

<svelte:window onhashchange={() => (project = fromHash())} />
{#if project}
  {#key project}
    <WorkspacePage id={project} {theme} ontheme={toggle} />
  {/key}
{:else}
  <ProjectsPage onopen={(id) => (location.hash = `#/projects/${id}`)} />
{/if}
