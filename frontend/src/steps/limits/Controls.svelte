<script lang="ts">
  import NoRoad from './NoRoad.svelte';
  import { ROWS, type DimensionName } from '../../api/fields';
  import Choice from '../../lib/fields/Choice.svelte';
  import Field from '../../lib/fields/Field.svelte';
  import { chainage } from '../../lib/format';
  import {
    addControl,
    changeControls,
    controlsOf,
    freshControl,
    bandsOf,
    levelNear,
    type LevelControl,
  } from '../../lib/state/controls';
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';
  import { told } from '../../lib/units';

  // Where the line must be at, above, below or between levels: a creek's flood, a pipe, a power line.
  const w = useWork();
  const all = $derived(controlsOf(w));
  const bands = $derived(bandsOf(w.marked));
  const fields = ROWS.controls.fields;
  const field = (name: keyof LevelControl) => fields.find((f) => f.name === name)!;

  const set = (at: number, part: Partial<LevelControl>): Promise<string | null> =>
    changeControls(w, 'the level control', (rows) => rows.map((c, i) => (i === at ? { ...c, ...part } : c)));

  /** The fields that matter for what it is measured from. */
  function levelFields(c: LevelControl): (keyof LevelControl)[] {
    const [low, high] = c.measured_from === 'level' ? ['level_m', 'level_to_m'] : ['height_m', 'height_to_m'];
    return [
      low,
      ...(c.bound === 'between' ? [high] : []),
      ...(c.bound === 'at' ? [] : ['clearance_m']),
      'offset_m',
    ] as (keyof LevelControl)[];
  }

  /** Another thing to measure from, or another bound, with a first value where one is needed. */
  function chosen(c: LevelControl, part: Partial<LevelControl>): Partial<LevelControl> {
    const next = { ...c, ...part };
    const level = levelNear(w, (c.from_m + c.to_m) / 2);
    if (next.measured_from === 'level') next.level_m ??= level;
    else next.height_m ??= 0;
    if (next.measured_from === 'line') next.old_line ??= w.lines.find((l) => l.slot !== w.line?.slot)?.slot ?? null;
    const upper = 1 + 2 * next.clearance_m;
    if (next.bound === 'between') {
      if (next.measured_from === 'level') next.level_to_m ??= next.level_m! + upper;
      else next.height_to_m ??= next.height_m! + upper;
    }
    return next;
  }

  /** A start typed behind the end takes the control along; a point stays one. */
  function moved({ from_m, to_m }: LevelControl, name: 'from_m' | 'to_m', value: number): Partial<LevelControl> {
    if (name === 'from_m' && (value > to_m || from_m === to_m)) return { from_m: value, to_m: value + to_m - from_m };
    return { [name]: value };
  }

  function add(): void {
    const at = w.selection.plumb;
    const c = freshControl(w.road?.slot ?? 'centreline', at, at, levelNear(w, at));
    void addControl(w, c).then((refused) => refused && w.notices.tell(new Error(refused)));
  }

  function remove(at: number): void {
    w.selection.control = null;
    w.act(changeControls(w, 'the level control', (rows) => rows.filter((_, i) => i !== at)));
  }

  function inWords(c: LevelControl): string {
    const over = { level: '', ground: ' over the ground', line: ' over the old road' }[c.measured_from] ?? '';
    const [a, b] = c.measured_from === 'level' ? [c.level_m, c.level_to_m] : [c.height_m, c.height_to_m];
    const value = (z: number | null) => (z === null ? '' : told('level', z, 2));
    const to = c.bound === 'between' ? ` and ${value(b)}` : '';
    const more = c.clearance_m ? `, clear by ${told('length', c.clearance_m)}` : '';
    return worded(`${c.bound} ${value(a)}${to}${over}${more}`);
  }

  function room(at: number): { says: string; bad: boolean } | null {
    const of = bands.find((b) => b.of.kind === 'control' && b.of.row === at)?.of;
    if (!of) return null;
    if (of.slack_m === null)
      return { says: 'the line is not there, or there is nothing to measure it from', bad: false };
    const by = told('length', Math.abs(of.slack_m));
    const where = worded(`at ${chainage(of.at_m ?? 0, 0)}`);
    return of.slack_m < -0.0011
      ? { says: `✕ short by ${by} ${where}`, bad: true }
      : { says: `${by} to spare ${where}`, bad: false };
  }
</script>

<h2>{worded('Level controls')}</h2>
{#each all as { control: c, at } (at)}
  {@const now = room(at)}
  <details
    class="fold"
    open={w.selection.control === at}
    ontoggle={(e) => {
      if (e.currentTarget.open) w.selection.control = at;
      else if (w.selection.control === at) w.selection.control = null;
    }}
  >
    <summary
      ><b>{c.words || 'Control'}</b>
      {chainage(c.from_m, 0)}{c.to_m > c.from_m ? ` to ${chainage(c.to_m, 0)}` : ''}<br /><span class="faint"
        >{inWords(c)}</span
      >{#if now}<br /><span class:failure={now.bad}>{now.says}</span>{/if}</summary
    >
    {#each ['words', 'reason'] as const as name (name)}
      <div class="text">
        <Field
          id={`control-${at}-${name}`}
          label={field(name).label}
          value={c[name] || null}
          dimension="line"
          optional
          free={name === 'words' ? 'a creek, a pipe' : 'why it must be kept'}
          take={(v) => set(at, { [name]: String(v ?? '') })}
        />
      </div>
    {/each}
    {#each ['from_m', 'to_m'] as const as name (name)}
      <Field
        id={`control-${at}-${name}`}
        label={field(name).label}
        value={c[name]}
        dimension="chainage"
        take={(v) => set(at, moved(c, name, v as number))}
      />
    {/each}
    {#each ['bound', 'measured_from'] as const as name (name)}
      <Choice
        id={`control-${at}-${name}`}
        label={field(name).label}
        value={c[name]}
        choices={field(name).choices}
        take={(v) => set(at, chosen(c, { [name]: v }))}
      />
    {/each}
    {#if c.measured_from === 'line'}
      <Choice
        id={`control-${at}-old_line`}
        label={field('old_line').label}
        value={c.old_line ?? ''}
        choices={w.lines.map((l) => l.slot)}
        names={Object.fromEntries(w.lines.map((l) => [l.slot, l.name]))}
        take={(v) => set(at, { old_line: v })}
      />
    {/if}
    {#each levelFields(c) as name (name)}
      <Field
        id={`control-${at}-${name}`}
        label={field(name).label}
        value={c[name]}
        dimension={field(name).dimension as DimensionName}
        says={field(name).says}
        aside={name === 'offset_m' ? 'right' : undefined}
        take={(v) => set(at, { [name]: v })}
      />
    {/each}
    <button class="btn btn-xs" onclick={() => remove(at)}>Delete the control</button>
  </details>
{:else}
  <p class="faint">
    {worded(
      'None. A control keeps the line at, above, below or between levels: a creek’s flood, cover over a pipe, headroom under a line.',
    )}
  </p>
{/each}
{#if w.still}
  <div class="buttons">
    <button class="btn btn-xs" onclick={add}>Add one at the plumb line</button>
    <button
      class="btn btn-xs"
      class:btn-active={w.selection.drawsControl}
      aria-pressed={w.selection.drawsControl}
      title="Click in the long section for a point, or drag for a stretch; Esc lets it be"
      onclick={() => (w.selection.drawsControl = !w.selection.drawsControl)}>Draw one</button
    >
  </div>
{:else}<NoRoad what="A level control lies" />{/if}
{#if w.selection.drawsControl}
  <p class="faint">Click in the long section where the level is to be kept, or drag along a stretch.</p>
{/if}

<style>
  summary {
    line-height: 1.35;
  }
  .text {
    --field-width: 190px;
  }
  .buttons {
    display: flex;
    gap: 6px;
    margin: 4px 0 8px;
  }
</style>
