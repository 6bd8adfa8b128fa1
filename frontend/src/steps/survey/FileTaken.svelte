<script lang="ts">
  import { megabytes, whole } from '../../lib/format';
  import { useWork } from '../../lib/state/work.svelte';
  import Summary from './Summary.svelte';

  // The import that goes on, and how it ended.
  const w = useWork();
  const intake = $derived(w.intake);
  const job = $derived(intake.job);
  const told = $derived(intake.told);
</script>

{#if intake.live && job}
  {@const far = job.result}
  <p role="status">
    {job.stage}{job.ahead ? `, ${job.ahead} before it` : ''}…
    {#if far}
      <span class="num faint"
        >{megabytes(far.read)} of {megabytes(far.size)} MB{far.points ? `, ${whole(far.points)} points` : ''}</span
      >
    {/if}
  </p>
  <progress class="progress progress-primary" value={job.share} max="1" aria-label="Progress of the import"></progress>
  <button class="btn btn-sm" onclick={() => w.project && void intake.stop(w.project.id)}>Stop</button>
{:else if told?.status === 'failed'}
  <div class="failure-box" role="alert">{told.message}</div>
{:else if told?.status === 'stopped'}
  <p>{told.message}</p>
{:else if told?.result?.summary}
  <section aria-label="What was read">
    <h3>What was read</h3>
    <Summary summary={told.result.summary} />
    <button class="btn btn-sm" onclick={() => (intake.told = null)}>Seen</button>
  </section>
{/if}

<style>
  section {
    border-left: 4px solid var(--color-primary);
    padding: 4px 8px;
    margin: 6px 0;
  }
  h3 {
    font-weight: 700;
  }
</style>
