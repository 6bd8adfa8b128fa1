<script lang="ts">
  import { worded } from '../../lib/system.svelte';
  import { READERS } from '../../api/fields';
  import { chainage } from '../../lib/format';
  import Map from '../../lib/map/Map.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import Boundary from './Boundary.svelte';
  import Changes from './Changes.svelte';
  import Codes from './Codes.svelte';
  import Coordinates from './Coordinates.svelte';
  import FileLook from './FileLook.svelte';
  import FileTaken from './FileTaken.svelte';
  import FileWishes from './FileWishes.svelte';
  import PointCard from './PointCard.svelte';
  import Surveys from './Surveys.svelte';
  import Suspects from './Suspects.svelte';

  const suffixes = (makes: string) =>
    READERS.filter((r) => r.makes === makes)
      .flatMap((r) => r.suffixes)
      .join();

  const w = useWork();
  const intake = $derived(w.intake);
  let over = $state(false);

  const surveys = $derived(w.project?.surveys ?? []);
  const onWay = $derived(intake.seen !== null || intake.sent !== null);

  function choose(file: File | undefined): void {
    if (file && w.project) void intake.choose(w.project.id, file, surveys.length ? 'adds' : 'alone');
  }

  function dropped(e: DragEvent): void {
    e.preventDefault();
    over = false;
    choose(e.dataTransfer?.files[0]);
  }
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="work"
  class:over
  ondragover={(e) => {
    e.preventDefault();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={dropped}
>
  <div class="main">
    {#if intake.seen && w.project}
      {@const id = w.project.id}
      <FileLook name={intake.name} seen={intake.seen} again={(layout, parts) => void intake.look(id, layout, parts)} />
    {:else if surveys.length}
      {#if w.walk.cameFrom !== null}
        <div class="back">
          <button
            class="btn btn-xs btn-primary"
            onclick={() => {
              const at = w.walk.cameFrom!;
              w.walk.cameFrom = null;
              w.goToStep('sections');
              w.selection.pinned = true;
              w.selection.setPlumb(at);
            }}>Back to the section at {chainage(w.walk.cameFrom, 2)}</button
          >
        </div>
      {/if}
      <Map title="Ground" by />
    {:else}
      <div class="drop">
        <h2>Bring in the survey</h2>
        <p>
          Text with one point a line (easting, northing and {worded('level')} in any order, with number, code and breakline
          name if there are), a grid (ESRI ASCII, GeoTIFF), a point cloud (LAS, LAZ), DXF or LandXML. Drop the file here or
          choose it on the right. You see how it is read before anything is stored.
        </p>
      </div>
    {/if}
  </div>
  <aside>
    {#if onWay || intake.problem}
      <FileWishes />
    {:else}
      <h2>Survey</h2>
      <FileTaken />
      <Surveys />
    {/if}
    {#if !onWay}
      <label class="file">
        {surveys.length ? 'Bring in another file' : 'Choose the file'}
        <input
          type="file"
          class="file-input file-input-sm"
          accept={suffixes('survey')}
          disabled={intake.live}
          onchange={(e) => {
            choose(e.currentTarget.files?.[0]);
            e.currentTarget.value = '';
          }}
        />
      </label>
      {#if surveys.length}
        {#if w.project && !w.road}
          <button class="btn btn-primary btn-sm onward" onclick={() => w.goToStep('centreline')}
            >To the centreline</button
          >
        {/if}
        <PointCard />
        <Coordinates />
        <Boundary />
        <Codes />
        <Suspects />
        <Changes />
      {/if}
    {/if}
  </aside>
</div>

<style>
  .back {
    padding: 3px 8px;
    background: var(--color-base-200);
  }
  .drop {
    display: grid;
    place-content: center;
    justify-items: center;
    gap: 8px;
    height: 100%;
    padding: 0 20%;
    text-align: center;
  }
  .over {
    outline: 2px dashed var(--color-primary);
    outline-offset: -2px;
  }
  .onward {
    margin-bottom: 8px;
  }
  .file {
    display: grid;
    gap: 4px;
    margin: 8px 0;
  }
</style>
