<script lang="ts">
  import { newProject, projectsListed } from '../../lib/state/asked';
  import type { Schemas } from '../../api/client';
  import type { System } from '../../api/fields';
  import { openIn, ownSystem, SYSTEMS } from '../../lib/system.svelte';
  import ProjectCard from './ProjectCard.svelte';

  let { onopen }: { onopen: (id: number) => void } = $props();
  let list = $state.raw<Schemas['ProjectItem'][] | null>(null);
  let name = $state('');
  let units = $state<System>(ownSystem() ?? 'metric');
  let problem = $state<string | null>(null);
  // The one worked on last stands first.
  const newest = $derived([...(list ?? [])].sort((a, b) => b.saved_at.localeCompare(a.saved_at)));

  async function load(): Promise<void> {
    try {
      list = await projectsListed();
      problem = null;
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }
  void load();
  // The list is of projects in any system: it is read in one's own.
  openIn(undefined);

  async function create(e: SubmitEvent): Promise<void> {
    e.preventDefault();
    if (!name.trim()) {
      problem = 'Give the project a name first.';
      return;
    }
    try {
      onopen(await newProject(name.trim(), units));
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<main>
  <header>
    <img src="/mark.svg" alt="" width="40" height="40" />
    <div>
      <h1>Delgrun</h1>
      <p class="faint">Vertical profiles for rural roads: every figure on screen belongs to the line on screen.</p>
    </div>
    <form onsubmit={create}>
      <label for="new-name">New project</label>
      <input id="new-name" class="field" maxlength="120" bind:value={name} placeholder="its name" />
      <select class="select select-sm" aria-label="Units of the new project" bind:value={units}>
        {#each SYSTEMS as [id, says] (id)}<option value={id}>in {says}</option>{/each}
      </select>
      <button class="btn btn-primary btn-sm">Start it</button>
    </form>
  </header>
  {#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
  <section class="list" aria-label="Projects">
    {#each newest as p (p.id)}
      <ProjectCard project={p} onopen={() => onopen(p.id)} />
    {:else}
      <p class="faint">{list ? 'None yet: name one above, then bring in its survey.' : 'reading…'}</p>
    {/each}
  </section>
  <footer class="faint">
    Apache-2.0. Fonts and scripts that come along have <a href="/licences.txt">their own licences</a>.
  </footer>
</main>

<style>
  main {
    display: flex;
    flex-direction: column;
    gap: 16px;
    height: 100%;
    max-width: 1160px;
    margin: 0 auto;
    padding: 24px 28px 12px;
  }
  header {
    display: flex;
    align-items: center;
    gap: 14px;
    flex: none;
  }
  h1 {
    font-size: 24px;
    font-weight: 800;
    line-height: 1.1;
  }
  form {
    display: flex;
    gap: 8px;
    align-items: center;
    margin-left: auto;
  }
  form .field {
    width: 240px;
    text-align: left;
  }
  form label {
    white-space: nowrap;
  }
  .list {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
    gap: 14px;
    align-content: start;
    overflow-y: auto;
    flex: 1;
    min-height: 0;
  }
  footer {
    font-size: 12px;
    flex: none;
  }
  footer a {
    text-decoration: underline;
  }
</style>
