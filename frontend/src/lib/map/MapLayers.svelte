<script lang="ts">
  import { changeInput } from '../state/rows';
  import { unitLength, worded } from '../system.svelte';
  import { told, unitOf } from '../units';
  import { inks } from '../deck/ink';
  import Field from '../fields/Field.svelte';
  import { READERS } from '../../api/fields';
  import { layPicture } from '../state/pictures';
  import { NO_PICTURE, ownOf, STANDIN, type Backdrop } from './backdrop';
  import { PLAN_TEXTS, type PlanText } from '../state/written.svelte';
  import { useWork } from '../state/work.svelte';
  import { LAYERS } from './layers';
  import { SLOPES } from './shade';
  import type { Shading } from '../state/map.svelte';

  let { step, interval, onclose }: { step: string; interval: number; onclose: () => void } = $props();
  const w = useWork();
  const looks = $derived(w.map.looks);
  const SHADINGS: [Shading, string][] = [
    ['hill', 'hills, lit from the north-west'],
    ['slope', 'how steep'],
    ['level', 'how high'],
    ['none', 'none'],
  ];
  const picture: Backdrop = $derived(w.project?.backdrop ?? NO_PICTURE);
  let typing = $state(false);
  const own = $derived(typing || (picture.address !== '' && picture.address !== STANDIN));
  const mine = $derived(ownOf(picture) !== null);
  let choosing = $state(false);
  let laying = $state(false);
  let refused = $state<string | null>(null);

  async function lay(files: FileList | null): Promise<void> {
    if (!files?.length) return;
    laying = true;
    refused = await layPicture(w, [...files]);
    laying = false;
    choosing = refused !== null;
  }

  const put = (part: Partial<Backdrop>) =>
    changeInput(w, 'backdrop', 'the picture under the map', (now) => ({ ...(now ?? picture), ...part }));

  function choose(value: string): void {
    typing = value === 'own';
    choosing = value === 'file';
    refused = null;
    if (choosing || typing) return;
    w.act(put({ ...NO_PICTURE, opacity: picture.opacity, address: value === 'standin' ? STANDIN : '' }));
  }
  const planTexts = Object.entries(PLAN_TEXTS) as [PlanText, string][];
  const WORLDS = '.jgw,.jpgw,.pgw,.pngw,.tfw,.tifw,.wld';
  const PICTURES = [...READERS.filter((r) => r.makes === 'picture').flatMap((r) => r.suffixes), WORLDS].join();
  const INTERVALS = [0.1, 0.2, 0.5, 1, 2, 5, 10];
</script>

<div class="layers" role="group" aria-label="Layers of the map">
  {#each LAYERS as layer (layer.id)}
    <label
      ><input
        type="checkbox"
        class="checkbox checkbox-sm"
        checked={w.map.shows(step, layer.id)}
        onchange={() => w.map.toggle(step, layer.id)}
      />
      {layer.title}</label
    >
  {/each}
  {#if w.map.shows(step, 'road')}
    <fieldset>
      <legend class="faint">written at bends</legend>
      {#each planTexts as [id, says] (id)}
        <label
          ><input
            type="checkbox"
            class="checkbox checkbox-xs"
            checked={w.written.plan(id)}
            onchange={() => w.written.togglePlan(id)}
          />
          {says}</label
        >
      {/each}
    </fieldset>
  {/if}
  {#if w.map.shows(step, 'backdrop')}
    <label
      >picture
      <select
        class="select select-sm"
        aria-label="Picture under the map"
        value={choosing || (mine && !typing) ? 'file' : own ? 'own' : picture.address === STANDIN ? 'standin' : 'none'}
        onchange={(e) => choose(e.currentTarget.value)}
      >
        <option value="none">none</option>
        <option value="standin">made up, of the demo's land</option>
        <option value="own">a Web Map Service</option>
        <option value="file">a file of one’s own</option>
      </select></label
    >
    {#if choosing || (mine && !typing)}
      {#if mine}<p class="faint name" title={picture.picture_name}>{picture.picture_name}</p>{/if}
      <label class="btn btn-xs"
        >{mine ? 'Another file' : 'Choose a GeoTIFF, or a picture and its world file'}<input
          class="sr-only"
          type="file"
          multiple
          accept={PICTURES}
          aria-label="Picture from the air"
          onchange={(e) => void lay(e.currentTarget.files)}
        /></label
      >
      {#if laying}<p role="status">Reading the picture…</p>{/if}
      {#if refused}<p class="failure" role="alert">{refused}</p>{/if}
    {:else if own}
      <Field
        id="backdrop-address"
        label="address"
        value={picture.address || null}
        dimension="line"
        optional
        free="https://"
        take={(v) => put({ ...NO_PICTURE, opacity: picture.opacity, address: (v as string | null) ?? '' })}
      />
      <Field
        id="backdrop-layers"
        label="layers"
        value={picture.layers || null}
        dimension="line"
        optional
        take={(v) => put({ layers: (v as string | null) ?? '' })}
      />
    {/if}
    {#if picture.address || mine}
      <label
        >strength
        <input
          type="range"
          class="range range-xs"
          min="0.1"
          max="1"
          step="0.1"
          value={picture.opacity}
          onchange={(e) => void put({ opacity: Number(e.currentTarget.value) })}
        /></label
      >
    {/if}
  {/if}
  <label
    >shade
    <select
      class="select select-sm"
      value={looks.shading}
      onchange={(e) => w.map.put({ shading: e.currentTarget.value as Shading })}
    >
      {#each SHADINGS as [value, says] (value)}<option {value}>{says}</option>{/each}
    </select></label
  >
  {#if looks.shading === 'slope'}
    <ul class="num">
      {#each SLOPES as [above, says, dark] (above)}
        <li><i style:background={inks().relief} style:opacity={dark + 0.04}></i>{says}</li>
      {/each}
    </ul>
  {/if}
  <label
    >contours each
    <select
      class="select select-sm"
      value={looks.interval}
      onchange={(e) => w.map.put({ interval: Number(e.currentTarget.value) })}
    >
      <option value={0}>as suits ({told('size', interval)})</option>
      {#each INTERVALS as value (value)}<option value={value * unitLength()}>{value} {unitOf('size')}</option>{/each}
    </select></label
  >
  <label
    ><input
      type="checkbox"
      class="checkbox checkbox-sm"
      checked={looks.smooth}
      onchange={() => w.map.put({ smooth: !looks.smooth })}
    /> round their corners</label
  >
  {#if looks.smooth}<p class="faint">{worded('For drawing only: levels are those of the triangles.')}</p>{/if}
  <button class="btn btn-xs" onclick={onclose}>Close</button>
</div>

<style>
  .layers {
    position: absolute;
    right: 6px;
    top: 34px;
    z-index: 2;
    display: grid;
    gap: 2px;
    max-height: calc(100% - 40px);
    overflow-y: auto;
    width: 262px;
    padding: 8px 10px;
    background: var(--color-base-100);
    border: 1px solid var(--color-base-300);
    border-radius: 4px;
  }
  label {
    display: flex;
    gap: 6px;
    align-items: center;
    min-height: 24px;
    white-space: nowrap;
  }
  fieldset {
    display: grid;
    grid-template-columns: 1fr 1fr;
    border-left: 2px solid var(--color-base-300);
    padding-left: 8px;
  }
  li {
    display: flex;
    gap: 6px;
    align-items: center;
    line-height: 18px;
  }
  li i {
    width: 22px;
    height: 12px;
    border: 1px solid var(--color-base-300);
  }
  p {
    line-height: 1.2;
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
