<script lang="ts">
  import { changeInput } from '../../lib/state/rows';
  import { systemsKnown } from '../../lib/state/asked';
  import type { Schemas } from '../../api/client';
  import { INPUTS } from '../../api/fields';
  import Field from '../../lib/fields/Field.svelte';
  import type { Value } from '../../lib/units';
  import { useWork } from '../../lib/state/work.svelte';

  // Which coordinates the project is in: local metres or a named grid, the datum of its levels, the grid's scale.
  type Coordinates = Schemas['Coordinates'];
  const w = useWork();
  const now: Coordinates = $derived(
    w.project?.coordinates ?? { crs: '', vertical: '', scale_factor: 1, about_easting_m: 0, about_northing_m: 0 },
  );
  let found = $state.raw<{ code: string; name: string }[]>([]);
  let asked = 0;
  const scaled = $derived(now.scale_factor !== 1);
  const shown = $derived(INPUTS.coordinates.filter((f) => scaled || !f.name.startsWith('about')));

  async function look(text: string, vertical: boolean): Promise<void> {
    const p = w.project;
    const mine = ++asked;
    if (!p || text.trim().length < 3) return;
    try {
      const systems = await systemsKnown(p.id, text, vertical);
      if (mine === asked) found = systems;
    } catch {
      // Only a help while typing: whatever is typed is held against what is known when it is saved.
      found = [];
    }
  }

  function take(name: string, value: Value | null): Promise<string | null> {
    return changeInput(w, 'coordinates', 'the coordinates', (kept) => ({ ...(kept ?? now), [name]: value ?? '' }));
  }
</script>

<details style:--field-width="150px">
  <summary>Coordinates: {now.crs || 'local'}{now.vertical ? `, ${now.vertical}` : ''}</summary>
  {#each shown as f (f.name)}
    {@const words = f.name === 'crs' || f.name === 'vertical'}
    <Field
      id={`coordinates-${f.name}`}
      label={f.label}
      value={now[f.name] === '' ? null : now[f.name]}
      dimension={f.dimension}
      says={f.says}
      optional={words}
      free={f.name === 'crs' ? 'local' : 'not said'}
      list={words ? 'coordinates-known' : undefined}
      typing={(text) => words && void look(text, f.name === 'vertical')}
      take={(v) => take(f.name, v)}
    />
  {/each}
  <datalist id="coordinates-known">
    {#each found as f (f.code)}<option value={f.code.startsWith('EPSG') ? f.code : f.name}>{f.name}</option>{/each}
  </datalist>
  <p class="faint">
    Type a code or words of the grid's name. The scale factor is a length on the grid over the same on the ground; files
    can then be brought from the grid to the ground about the fixed place.
  </p>
</details>

<style>
  summary {
    cursor: pointer;
    min-height: 24px;
    overflow-wrap: anywhere;
  }
</style>
