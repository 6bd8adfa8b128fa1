<script lang="ts">
  import { api, ask, type Schemas } from '../../api/client';

  let { onopen }: { onopen: (id: number) => void } = $props();
  let list = $state.raw<Schemas['ProjectItem'][] | null>(null);
  let name = $state('');
  let problem = $state<string | null>(null);

  async function load(): Promise<void> {
    try {
      list = (await ask(api.GET('/api/projects'))).projects;
      problem = null;
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }
  void load();

  async function create(e: SubmitEvent): Promise<void> {
    e.preventDefault();
    if (!name.trim()) {
      problem = 'Give the project a name first.';
      return;
    }
    try {
      onopen((await ask(api.POST('/api/projects', { body: { name: name.trim() } }))).id);
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<main>
  <h1><img src="/mark.svg" alt="" width="36" height="36" /> Delgrun</h1>
  <p class="faint">Vertical profiles for rural roads: every figure on screen belongs to the line on screen.</p>
  {#if problem}<div class="failure-box" role="alert">{problem}</div>{/if}
  <section>
    <h2>Projects</h2>
    {#each list ?? [] as p (p.id)}
      <button class="project" onclick={() => onopen(p.id)}>
        <b>{p.name}</b>
        <span class="faint num">revision {p.revision}, saved {new Date(p.saved_at).toLocaleString()}</span>
      </button>
    {:else}
      <p class="faint">{list ? 'None yet: name one below, then bring in its survey.' : 'reading…'}</p>
    {/each}
  </section>
  <form onsubmit={create}>
    <label for="new-name">New project</label>
    <input id="new-name" class="field" maxlength="120" bind:value={name} placeholder="its name" />
    <button class="btn btn-primary btn-sm">Start it</button>
  </form>
  <p class="faint small">
    Apache-2.0. Fonts and scripts that come along have <a href="/licences.txt">their own licences</a>.
  </p>
</main>

<style>
  main {
    max-width: 620px;
    margin: 9vh auto 0;
    padding: 24px 28px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 8px;
  }
  h1 {
    display: flex;
    gap: 12px;
    align-items: center;
    font-size: 26px;
    font-weight: 800;
  }
  h2 {
    margin: 18px 0 6px;
    font-weight: 700;
  }
  .project {
    display: flex;
    width: 100%;
    justify-content: space-between;
    align-items: center;
    min-height: 44px;
    padding: 0 12px;
    border: 1px solid var(--color-base-300);
    border-radius: 6px;
    margin-bottom: 6px;
    cursor: pointer;
  }
  .project:hover {
    background: var(--color-base-200);
  }
  form {
    display: flex;
    gap: 8px;
    align-items: center;
    margin-top: 18px;
  }
  .small {
    margin-top: 18px;
    font-size: 12px;
  }
  .small a {
    text-decoration: underline;
  }
  form .field {
    flex: 1;
    text-align: left;
  }
  form label {
    white-space: nowrap;
  }
</style>
