<script lang="ts">
  import Field from '../../lib/fields/Field.svelte';
  import SectionDrawing from '../../lib/section/SectionDrawing.svelte';
  import { fresh } from '../../lib/section/shape';
  import {
    bodyOf,
    copied,
    mirrored,
    type Element,
    type Part,
    type Side,
    type Typical,
  } from '../../lib/state/sections.svelte';
  import { changeInput } from '../../lib/state/rows';
  import { useWork } from '../../lib/state/work.svelte';
  import { system, worded } from '../../lib/system.svelte';
  import { figure, told, unitOf } from '../../lib/units';
  import PartGrid from './PartGrid.svelte';
  import PartSketch from './PartSketch.svelte';

  // A typical section in the room of the deck: its drawing, and rows beside it.
  const w = useWork();
  const s = w.sections;
  const section = $derived(s.shown);
  let part = $state<Part>('elements');
  const offered = $derived(s.offered);
  let kind = $state<string>('drain');
  const built = $derived(w.project?.works?.section === s.slot);
  const PARTS: Record<Part, string> = { elements: 'Elements', layers: 'Layers', batters: 'Batters and benches' };
  const GROUNDS = [
    ['In cut', 2, 0],
    ['Level with it', 0, 0],
    ['In fill', -2, 0],
    ['On a side slope', 0, 0.25],
  ] as const;
  const columns = $derived(s.drawn?.columns ?? []);
  const pieces = $derived(offered?.kept.filter((k) => k.what === 'piece') ?? []);

  // Asked for once somebody edits a section.
  $effect(() => {
    if (s.slot && !s.offered) w.act(s.look());
  });

  $effect(() => {
    // Drawn anew by whatever it is made of.
    void [s.saved, s.depth, s.fall, w.project?.strata, w.project?.works, system()];
    s.draw();
  });

  const edit = (what: string, make: (now: Typical) => Typical) => w.act(s.change(what, make));

  function build(): void {
    w.act(changeInput(w, 'works', 'the section that is built', (now) => ({ ...now, section: s.slot! })));
  }

  function begin(e: Event & { currentTarget: HTMLSelectElement }): void {
    const [from, id] = e.currentTarget.value.split(' ');
    e.currentTarget.value = '';
    const found =
      from === 'starting'
        ? offered?.starting.find((o) => o.id === id)?.section
        : from === 'kept'
          ? offered?.kept.find((k) => String(k.id) === id)?.section
          : bodyOf(w.project!.sections.find((k) => k.slot === id)!);
    if (found) w.act(s.add(found));
  }

  function addElement(): void {
    edit('a new element', (now) => {
      const own = now.elements.filter((e) => e.side === s.side);
      const made = kind.startsWith('piece-')
        ? pieces.find((p) => `piece-${p.id}` === kind)!.section.elements.map((e) => ({ ...e, side: s.side }))
        : [
            fresh(
              kind as Element['kind'],
              s.side,
              own.map((e) => e.name),
            ),
          ];
      const taken = own.map((e) => e.name);
      const named = made.map((e) => {
        let name = e.name;
        for (let n = 2; taken.includes(name); n++) name = `${e.name} ${n}`;
        taken.push(name);
        return { ...e, name };
      });
      const last = now.elements.map((e) => e.side).lastIndexOf(s.side);
      const elements = [...now.elements.slice(0, last + 1), ...named, ...now.elements.slice(last + 1)];
      const next = { ...now, elements };
      return s.both ? copied(next, s.side) : next;
    });
  }

  /** Keep all of it, or the element in hand and those beyond it on its side, for all projects. */
  async function keep(what: 'section' | 'piece'): Promise<string | null> {
    const now = s.saved!;
    const from = s.row === null ? undefined : now.elements[s.row];
    const own = now.elements.filter((e) => e.side === from?.side);
    const beyond = from ? own.slice(own.indexOf(from)) : [];
    const name =
      what === 'section'
        ? now.name
        : beyond
            .map((e) => e.name)
            .join(', ')
            .slice(0, 60);
    const body = what === 'section' ? bodyOf(now) : { name, elements: beyond, layers: [], batters: [] };
    await s.keep(what, body);
    w.notices.say(`“${name}” is kept for all projects.`);
    return null;
  }

  const freshRow = (now: Typical, side: Side): object => {
    if (part === 'elements')
      return fresh(
        'piece',
        side,
        now.elements.filter((e) => e.side === side).map((e) => e.name),
      );
    if (part === 'layers')
      return {
        ...{ side, name: 'subbase', thickness_m: 0.2, first: '', last: '', ends: 'own edge', extend_m: 0 },
        ...{ extend_fall: null, to_ground: false, price_per_m3: 0 },
      };
    const last = now.batters.filter((b) => b.side === side).at(-1)!;
    return { ...last, up_to_m: null };
  };
</script>

{#if section}
  <section class="editor" aria-label="Section editor">
    <header>
      <select
        class="select select-sm"
        aria-label="Section that is edited"
        value={s.slot}
        onchange={(e) => s.open(e.currentTarget.value)}
      >
        {#each w.project!.sections as one (one.slot)}<option value={one.slot}>{one.name}</option>{/each}
      </select>
      {#if built}<span class="faint">is built</span>
      {:else}<button class="btn btn-xs btn-primary" onclick={build}>Build this one</button>{/if}
      <select class="select select-xs" aria-label="New section" value="" onchange={begin}>
        <option value="">New from…</option>
        <optgroup label="This project">
          {#each w.project!.sections as one (one.slot)}<option value={`project ${one.slot}`}>Copy of {one.name}</option
            >{/each}
        </optgroup>
        <optgroup label="To begin with">
          {#each offered?.starting ?? [] as one (one.id)}<option value={`starting ${one.id}`} title={one.says}
              >{one.section.name}</option
            >{/each}
        </optgroup>
        {#if offered?.kept.some((k) => k.what === 'section')}
          <optgroup label="Kept for all projects">
            {#each offered.kept.filter((k) => k.what === 'section') as one (one.id)}<option value={`kept ${one.id}`}
                >{one.name}</option
              >{/each}
          </optgroup>
        {/if}
      </select>
      <button class="btn btn-xs" title="Keep it for all projects" onclick={() => w.act(keep('section'))}>Keep</button>
      <button class="btn btn-xs" disabled={built} onclick={() => w.act(s.remove(s.slot!))}>Delete</button>
      <button class="btn btn-xs close" onclick={() => s.close()}>Back to the tracks</button>
    </header>
    <div class="grounds">
      {#each GROUNDS as [name, depth, fall] (name)}
        <button
          class="btn btn-xs"
          aria-pressed={s.depth === depth && s.fall === fall}
          onclick={() => ([s.depth, s.fall] = [depth, fall])}>{name}</button
        >
      {/each}
      <Field
        id="section-depth"
        label="ground over line"
        value={s.depth}
        dimension="size"
        take={(v) => {
          s.depth = v as number;
          return null;
        }}
      />
      <Field
        id="section-ground-fall"
        label="falls right"
        value={s.fall}
        dimension="fall"
        take={(v) => {
          s.fall = v as number;
          return null;
        }}
      />
    </div>
    <div class="middle">
      <SectionDrawing />
      <div class="aside">
        <div>
          <span class="faint">the section takes</span>
          <dl class="facts" aria-label="Takes here">
            {#each columns as c (c.id)}
              <dt>{c.id.startsWith('cut-') ? `cut: ${c.name}` : worded(c.name)}</dt>
              <dd class="num">
                {c.unit === 'volume'
                  ? told('section_area', c.amount)
                  : `${figure('length', c.amount)} ${unitOf('length')}`}
              </dd>
            {/each}
          </dl>
        </div>
        <PartSketch {part} />
      </div>
    </div>
    <div class="sides">
      {#each ['left', 'right'] as const as side (side)}
        <button class="btn btn-xs" aria-pressed={s.side === side} onclick={() => (s.side = side)}
          >{side === 'left' ? 'Left side' : 'Right side'}</button
        >
      {/each}
      <label title="What is done to one side is done to the other"
        ><input
          type="checkbox"
          class="checkbox checkbox-xs"
          checked={s.both}
          onchange={(e) => {
            s.both = e.currentTarget.checked;
            if (s.both) edit('both sides alike', (now) => copied(now, s.side));
          }}
        />both at once</label
      >
      <button class="btn btn-xs" onclick={() => edit('the other side', (now) => copied(now, s.side))}
        >Copy to the {s.side === 'left' ? 'right' : 'left'}</button
      >
      <button class="btn btn-xs" onclick={() => edit('left and right', mirrored)}>Swap sides</button>
      <span class="gap"></span>
      <select class="select select-xs" aria-label="Kind of element" bind:value={kind}>
        {#each ['lane', 'shoulder', 'verge', 'kerb', 'drain', 'berm', 'wall', 'piece'] as one (one)}
          <option value={one}>{one}</option>
        {/each}
        {#each pieces as one (one.id)}<option value={`piece-${one.id}`}>{one.name} (kept)</option>{/each}
      </select>
      <button class="btn btn-xs" onclick={addElement}>Add outside</button>
      <button
        class="btn btn-xs"
        disabled={s.row === null}
        title="The element in hand and those outside it, as a piece for other sections"
        onclick={() => w.act(keep('piece'))}>Keep as a piece</button
      >
    </div>
    <div class="parts" role="tablist">
      {#each Object.entries(PARTS) as [id, name] (id)}
        <button role="tab" class="btn btn-xs" aria-selected={part === id} onclick={() => (part = id as Part)}
          >{name}</button
        >
      {/each}
      <Field
        id="section-name"
        label="name"
        value={section.name}
        dimension="name"
        take={(v) => s.change('the name', (now) => ({ ...now, name: String(v) }))}
      />
    </div>
    <div class="grid">
      {#key `${part} ${s.side} ${s.slot}`}
        <PartGrid {part} side={s.side} fresh={freshRow} label={`${PARTS[part]}, ${s.side}`} />
      {/key}
    </div>
    {#if pieces.length || offered?.kept.length}
      <details class="kept">
        <summary class="faint">Kept for all projects: {offered?.kept.length}</summary>
        {#each offered?.kept ?? [] as one (one.id)}
          <span class="one"
            >{one.name} ({one.what})
            <button class="btn btn-xs" onclick={() => w.act(s.forget(one.id))}>Take away</button></span
          >
        {/each}
      </details>
    {/if}
  </section>
{/if}

<style>
  .editor {
    position: absolute;
    inset: 0;
    z-index: 4;
    display: grid;
    grid-template-rows: auto auto minmax(200px, 46%) auto auto minmax(0, 1fr) auto;
    background: var(--color-base-100);
    padding: 0 10px;
  }
  header,
  .grounds,
  .sides,
  .parts {
    display: flex;
    gap: 6px;
    align-items: center;
    padding: 4px 0;
    min-width: 0;
  }
  header select.select-sm {
    width: 210px;
    flex: none;
    font-weight: 700;
  }
  header .select-xs {
    width: 120px;
  }
  .close {
    margin-left: auto;
  }
  .grounds {
    --label-width: auto;
    --field-width: 60px;
  }
  .grounds :global(.row) {
    grid-template-columns: auto 60px auto;
    margin-left: 8px;
  }
  .parts {
    --label-width: 44px;
    --field-width: 190px;
  }
  .sides .select {
    width: 110px;
  }
  .gap {
    flex: 1;
  }
  .sides label {
    display: flex;
    gap: 4px;
    align-items: center;
    font-size: 12.5px;
    white-space: nowrap;
  }
  .middle {
    display: grid;
    grid-template-columns: minmax(0, 1fr) 176px;
    gap: 10px;
    min-height: 0;
  }
  .aside {
    display: flex;
    flex-direction: column;
    justify-content: space-between;
    min-height: 0;
    overflow-y: auto;
  }
  .grid {
    display: flex;
    flex-direction: column;
    min-height: 0;
    min-width: 0;
  }
  .facts dd {
    white-space: nowrap;
  }
  .facts {
    align-content: start;
    overflow-y: auto;
    font-size: 12.5px;
  }
  [aria-pressed='true'],
  [aria-selected='true'] {
    border-color: var(--color-primary) !important;
    box-shadow: inset 0 -2px 0 var(--color-primary);
  }
  .kept {
    font-size: 12px;
  }
  .one {
    margin-right: 12px;
  }
</style>
