<script lang="ts">
  import { untrack } from 'svelte';
  import { chainage } from '../../lib/format';
  import SectionPane from '../../lib/section/SectionPane.svelte';
  import type { Drawing } from '../../lib/scene';
  import { sameCase } from '../../lib/state/figures.svelte';
  import { beyondSheet, onSheet, reportedOf, step, whatIsAt, type View } from '../../lib/state/walk.svelte';
  import { useWork } from '../../lib/state/work.svelte';
  import { worded } from '../../lib/system.svelte';
  import { told } from '../../lib/units';

  // Sections large, one beside the pinned ones; many small ones of a stretch; the road in space.
  const w = useWork();
  const walk = w.walk;
  const at = $derived(w.selection.plumb);
  const section = $derived(w.figures.section?.of.slot === w.selection.slot ? (w.figures.section?.shown ?? null) : null);
  const behind = $derived(w.case !== null && !sameCase(w.figures.section?.of ?? null, w.case));
  const pinned = $derived(w.figures.pinned?.of.slot === w.selection.slot ? w.figures.pinned : null);
  const pinsBehind = $derived(w.case !== null && !sameCase(pinned?.of ?? null, w.case));
  const RATIOS = [1, 2, 5, 10];
  /** How close the map comes [m a pixel], and how near a point is looked for. [m] */
  const [CLOSE, NEAR_M] = [0.08, 6];
  const WIDTHS = [0, 10, 20, 40, 60];
  const VIEWS: [View, string][] = [
    ['section', 'Section'],
    ['sheet', 'Sheet'],
    ['space', 'In space'],
  ];

  // Where sections are reported is asked for while somebody walks through them.
  $effect(() => {
    w.selection.want('walk', ['stations']);
    return () => w.selection.want('walk', []);
  });

  const listed = $derived(onSheet(w));
  const sheet = $derived(w.figures.sheet?.of.slot === w.selection.slot ? w.figures.sheet : null);
  $effect(() => {
    const [of, some, open] = [w.case, listed.map((r) => r.chainage_m), walk.view === 'sheet'];
    if (!open || !of || of.edits.length || !some.length) return;
    untrack(() => w.figures.askSections(of, some, 'sheet'));
  });

  // The chosen one is in view, wherever it was chosen.
  let cells = $state<HTMLElement>();
  $effect(() => {
    void [at, listed.length];
    cells?.querySelector('.current')?.scrollIntoView({ block: 'nearest' });
  });

  /** What fails at a chainage. */
  const badAt = (s: number): string =>
    w.findings
      .filter(
        (u) =>
          u.bad === 'fails' && u.place === 'stretch' && u.from_chainage_m - 0.01 <= s && s <= u.to_chainage_m + 0.01,
      )
      .map((u) => u.brief)
      .join('; ');

  /** What fails at a section: also between those that findings are told of. */
  const badOf = (s: number, own: { no_ground: string[] } | null): string =>
    badAt(s) || (own?.no_ground.length ? `The batter finds no ground on the ${own.no_ground.join(' and ')}` : '');

  // What other lines that are drawn over this one would build here.
  let others = $state.raw<{ drawing: Drawing; colour: number; name: string }[]>([]);
  $effect(() => {
    const [slots, here, p] = [Object.keys(w.over.shown), at, w.project];
    if (!slots.length || !p || walk.view !== 'section') {
      others = [];
      return;
    }
    let mine = true;
    const ask = async (slot: string) => {
      const line = p.lines.find((l) => l.slot === slot);
      const of = { project: p.id, revision: p.revision, slot, ips: null, edits: [] };
      const found = (await w.figures.beside(of, ['sections'], [here])).products.sections?.[0];
      return found && line ? [{ drawing: found.drawing, colour: line.colour, name: line.name }] : [];
    };
    const timer = setTimeout(() => {
      Promise.all(slots.map(ask))
        .then((found) => mine && (others = found.flat()))
        .catch((error: unknown) => w.notices.tell(error));
    }, 120);
    return () => {
      mine = false;
      clearTimeout(timer);
    };
  });

  /** A place of the ground that looks wrong: on the map, to be mended there. */
  let asked = $state<number | null>(null);
  $effect(() => {
    void at;
    asked = null;
  });
  function toMap(offset: number): void {
    const s = w.still?.arrays;
    if (!s?.plan_chainage) return;
    const k = Math.max(
      s.plan_chainage.findIndex((c) => c >= at),
      1,
    );
    const [a, b] = [s.plan_chainage[k - 1]!, s.plan_chainage[k]!];
    const t = b > a ? (at - a) / (b - a) : 0;
    const mix = (name: string) => s[name]![k - 1]! * (1 - t) + s[name]![k]! * t;
    const turn = mix('plan_direction');
    const [e, n] = [mix('plan_e') + offset * Math.sin(turn), mix('plan_n') - offset * Math.cos(turn)];
    w.walk.cameFrom = at;
    w.map.view = { centre: [e, n], resolution: CLOSE };
    w.hand.take('point');
    void w.hand.click(e, n, NEAR_M);
    w.goToStep('survey');
  }
  const number = $derived(reportedOf(w).findIndex((r) => Math.abs(r.chainage_m - at) < 0.006));
  const all = $derived(reportedOf(w).length);
  const count = $derived(number >= 0 ? ` (${number + 1} of ${all})` : all ? `${all} sections` : '');
</script>

<header class="bar">
  <div class="join" role="radiogroup" aria-label="View of the sections">
    {#each VIEWS as [id, name] (id)}
      <button
        class="btn btn-xs join-item"
        class:btn-primary={walk.view === id}
        role="radio"
        aria-checked={walk.view === id}
        onclick={() => (walk.view = id)}>{name}</button
      >
    {/each}
  </div>
  {#if walk.view !== 'space'}
    <button class="btn btn-xs" onclick={() => step(w, -1)} title="Previous section (,)">Previous</button>
    <b class="num">{chainage(at, 2)}</b>
    <button class="btn btn-xs" onclick={() => step(w, 1)} title="Next section (.)">Next</button>
    {#if walk.view === 'section'}
      <button
        class="btn btn-xs"
        aria-pressed={walk.pins.some((p) => Math.abs(p - at) < 0.005)}
        onclick={() => walk.pin(at)}
        title="Keep this section in view (K)">Pin</button
      >
      <select class="select select-xs" bind:value={walk.times} aria-label="Heights of sections">
        {#each RATIOS as r (r)}<option value={r}>heights ×{r}</option>{/each}
      </select>
      <select class="select select-xs" bind:value={walk.beside_m} aria-label="Width of sections">
        {#each WIDTHS as m (m)}<option value={m}>{m ? `${told('about', m)} each side` : 'as wide as works'}</option
          >{/each}
      </select>
    {/if}
    <span class="faint what">{whatIsAt(w, at)}{count}</span>
  {:else}
    <div class="join" role="radiogroup" aria-label="Look from">
      {#each [['air', 'From the air'], ['driver', 'Driver’s eye']] as const as [id, name] (id)}
        <button
          class="btn btn-xs join-item"
          class:btn-primary={walk.eye === id}
          role="radio"
          aria-checked={walk.eye === id}
          onclick={() => (walk.eye = id)}>{name}</button
        >
      {/each}
    </div>
    <b class="num">{chainage(at, 2)}</b>
  {/if}
</header>
{#if walk.view === 'space'}
  {#await import('./RoadSpace.svelte') then { default: RoadSpace }}<RoadSpace />{/await}
{:else if walk.view === 'sheet'}
  <div class="sheet" role="list" aria-label="Sections of the stretch" bind:this={cells}>
    {#each listed as r, i (r.chainage_m)}
      {@const own = sheet?.some_m[i] === r.chainage_m ? (sheet.shown[i] ?? null) : null}
      <div role="listitem" class="cell">
        <button
          class:current={Math.abs(r.chainage_m - at) < 0.006}
          title={badOf(r.chainage_m, own) || r.what}
          ondblclick={() => (walk.view = 'section')}
          onclick={() => {
            w.selection.pinned = true;
            w.selection.setPlumb(r.chainage_m);
          }}
        >
          <SectionPane section={own} title={chainage(r.chainage_m, 2)} small bad={badOf(r.chainage_m, own)} />
        </button>
      </div>
    {:else}
      <p class="faint" role="status">Finding where sections are…</p>
    {/each}
    {#if beyondSheet(w)}
      <p class="faint">{beyondSheet(w)} more: zoom in to see them. {worded('Areas are cut / fill.')}</p>
    {/if}
  </div>
{:else}
  <div class="panes" style:--columns={Math.max(Math.min(walk.pins.length, 4), 1)}>
    <div class="here">
      <SectionPane
        {section}
        {behind}
        title={`Section at ${chainage(at, 2)}`}
        times={walk.times}
        beside_m={walk.beside_m}
        {others}
        bad={badOf(at, section)}
        onpick={(o) => (asked = o)}
      />
    </div>
    {#each walk.pins as pin (pin)}
      {@const i = pinned?.some_m.indexOf(pin) ?? -1}
      <div class="pinned">
        <SectionPane
          section={i >= 0 ? pinned!.shown[i]! : null}
          behind={pinsBehind}
          title={`Pinned ${chainage(pin, 2)}`}
          times={walk.times}
          beside_m={walk.beside_m}
          bad={badOf(pin, i >= 0 ? pinned!.shown[i]! : null)}
        />
        <button class="btn btn-xs free" onclick={() => walk.free(pin)} title="Let this section go">Free</button>
      </div>
    {/each}
  </div>
  {#if asked !== null}
    <div class="mend" role="status">
      <span>{told('length', Math.abs(asked))} {asked < 0 ? 'left' : 'right'}: does the ground look wrong here?</span>
      <button class="btn btn-xs" onclick={() => toMap(asked!)}>Show on the map</button>
      <button class="btn btn-xs" onclick={() => (asked = null)}>Close</button>
    </div>
  {/if}
{/if}

<style>
  .bar {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 3px 8px;
    min-height: 34px;
    background: var(--color-base-200);
    font-size: 12.5px;
    white-space: nowrap;
    overflow: hidden;
  }
  .bar .select {
    width: auto;
  }
  .what {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .panes {
    flex: 1;
    min-height: 0;
    display: grid;
    grid-template-columns: repeat(var(--columns), minmax(0, 1fr));
    grid-auto-rows: minmax(0, 1fr);
    gap: 1px;
    background: var(--color-base-300);
  }
  .here {
    grid-column: 1 / -1;
    min-height: 0;
  }
  .pinned {
    position: relative;
    min-height: 0;
  }
  .free {
    position: absolute;
    right: 6px;
    bottom: 4px;
  }
  .sheet {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(148px, 1fr));
    grid-auto-rows: calc((100% - 3px) / 4);
    gap: 1px;
    background: var(--color-base-300);
  }
  .cell {
    min-height: 0;
  }
  .cell button {
    display: block;
    width: 100%;
    height: 100%;
    text-align: left;
    cursor: pointer;
  }
  .current {
    position: relative;
  }
  .current::after {
    content: '';
    position: absolute;
    inset: 0;
    border: 2px solid var(--ink-line);
    pointer-events: none;
  }
  .sheet p {
    padding: 8px;
    background: var(--color-base-100);
    white-space: normal;
    margin: 0;
  }
  .mend {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 2px 8px;
    background: var(--color-base-200);
    font-size: 12.5px;
  }
</style>
