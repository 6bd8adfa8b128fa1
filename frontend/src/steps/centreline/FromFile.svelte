<script lang="ts">
  import type { Schemas } from '../../api/client';
  import { READERS } from '../../api/fields';
  import { whole } from '../../lib/format';
  import { readAlignments, readFitted } from '../../lib/state/files';
  import { useWork } from '../../lib/state/work.svelte';
  import { told } from '../../lib/units';

  // A centreline from a file: its IPs as they are, or tangents and arcs fitted to a line of it.
  const w = useWork();
  const d = $derived(w.drawing);
  // Whether a file is to be brought from the grid to the ground; asked where the project has a scale between them.
  const scaled = $derived((w.project?.coordinates?.scale_factor ?? 1) !== 1);
  let wished = $state(false);
  /** Lines of a file that holds several. */
  let several = $state.raw<Schemas['AlignmentOut'][]>([]);

  function take(line: Schemas['AlignmentOut']): void {
    d.bring(line.ips);
    if (line.start_chainage_m !== d.startM) d.start = line.start_chainage_m;
    if (line.equations.length) d.typedEquations = line.equations;
    several = [];
    if (line.deviation_m > 0.0005)
      w.notices.say(`“${line.name}” is read to ${told('plan', line.deviation_m)} of what the file says.`);
  }

  const suffixes = (makes: 'centreline' | 'polyline') =>
    READERS.filter((r) => r.makes === makes)
      .flatMap((r) => r.suffixes)
      .join();

  let fitting = $state(false);
  /** A file with several lines, to choose one from. */
  let choice = $state.raw<{ file: File; lines: Schemas['LineInFile'][] } | null>(null);
  /** A line of few vertices: they may be its IPs, or points to fit to. */
  let few = $state.raw<Schemas['FitOut'] | null>(null);
  /** A line with no more vertices is likely drawn by its corners. */
  const FEW = 12;

  async function fit(file: File, which?: number): Promise<void> {
    fitting = true;
    choice = few = null;
    try {
      const found = await readFitted(w, file, scaled && wished, which);
      const { lines, fitted: f, vertices } = found;
      if (vertices.length && (!f || vertices.length <= FEW)) few = found;
      else if (f) takeFitted(f, found.space);
      else choice = { file, lines };
    } catch (error) {
      d.refused = error instanceof Error ? error.message : String(error);
    } finally {
      fitting = false;
    }
  }

  function takeVertices(found: Schemas['FitOut']): void {
    few = null;
    d.bring(found.vertices, found.space);
    w.notices.say(`${found.vertices.length} vertices taken as IPs; give them bends in the grid, or all at once.`);
  }

  function takeFitted(f: NonNullable<Schemas['FitOut']['fitted']>, space: number[][]): void {
    few = null;
    d.bring(f.ips, space);
    const bends = f.ips.length - 2;
    w.notices.say(
      `Fitted to ${whole(f.points)} points of “${f.name}”: ${bends === 1 ? 'one bend' : `${bends} bends`}; points scatter by ` +
        `${told('length', f.rms_m)}, the furthest is ${told('length', f.deviation_m)} off.`,
    );
  }

  async function read(file: File): Promise<void> {
    try {
      const { lines } = await readAlignments(w, file, scaled && wished);
      if (lines.length === 1) take(lines[0]!);
      else several = lines;
    } catch (error) {
      d.refused = error instanceof Error ? error.message : String(error);
    }
  }
</script>

{#if several.length}
  <div class="advice-box" role="group" aria-label="Lines of the file">
    The file holds {several.length} lines:
    {#each several as line (line.name)}
      <button class="btn btn-xs" onclick={() => take(line)}>{line.name}, {line.ips.length} IPs</button>
    {/each}
    <button class="btn btn-xs" onclick={() => (several = [])}>None</button>
  </div>
{/if}
{#if choice}
  <div class="advice-box" role="group" aria-label="Lines of the file">
    The file holds {choice.lines.length} lines, the longest first:
    {#each choice.lines.slice(0, 12) as line, i (i)}
      <button class="btn btn-xs" onclick={() => void fit(choice!.file, i)}
        >{line.name}, {told('about', line.length_m)}, {whole(line.points)} points</button
      >
    {/each}
    <button class="btn btn-xs" onclick={() => (choice = null)}>None</button>
  </div>
{/if}
{#if few}
  <div class="advice-box" role="group" aria-label="A line of few vertices">
    The line has {few.vertices.length} vertices{few.refused ? `, and can't be fitted: ${few.refused}` : ':'}
    <button class="btn btn-xs btn-primary" onclick={() => takeVertices(few!)}>Take them as IPs</button>
    {#if few.fitted}
      {@const f = few.fitted}
      <button class="btn btn-xs" onclick={() => takeFitted(f, few!.space)}
        >Fit tangents and arcs, {told('length', f.deviation_m)} off at most</button
      >
    {/if}
    <button class="btn btn-xs" onclick={() => (few = null)}>Neither</button>
  </div>
{/if}
<div class="buttons">
  <label class="btn btn-xs"
    >Read a file…<input
      type="file"
      class="sr-only"
      accept={suffixes('centreline')}
      onchange={(e) => {
        const file = e.currentTarget.files?.[0];
        if (file) void read(file);
        e.currentTarget.value = '';
      }}
    /></label
  >
  <label class="btn btn-xs" title="Tangents, arcs and transitions fitted to a line of DXF, GeoJSON, LandXML or text"
    >{fitting ? 'Fitting…' : 'Fit to a line…'}<input
      type="file"
      class="sr-only"
      disabled={fitting}
      accept={suffixes('polyline')}
      onchange={(e) => {
        const file = e.currentTarget.files?.[0];
        if (file) void fit(file);
        e.currentTarget.value = '';
      }}
    /></label
  >
  {#if scaled}
    <label class="ticked"
      ><input type="checkbox" class="checkbox checkbox-sm" bind:checked={wished} /> its coordinates are grid, not ground:
      convert them</label
    >
  {/if}
</div>

<style>
  .ticked {
    display: flex;
    align-items: center;
    gap: 6px;
    min-height: 26px;
    cursor: pointer;
  }
  .buttons {
    display: flex;
    gap: 6px;
    margin: 0 0 6px;
    flex-wrap: wrap;
  }
</style>
