import { untrack } from 'svelte';
import { writeBy } from '../stations.svelte';
import { keepDraft } from './drafts';
import { openIn, system } from '../system.svelte';
import type { Work } from './work.svelte';

/** Ask for what is on screen whenever that changes; called while a component is set up. */
export function follow(w: Work): void {
  $effect(() => {
    const p = w.project;
    if (!p?.surveys.length) return;
    const ground = { project: p.id, revision: p.revision, key: p.land_key };
    // What was changed by hand changes some tiles; another survey or boundary changes all.
    const survey = `${w.surveyed} ${JSON.stringify(p.outline)}`;
    if (w.land.facts?.ground.key !== ground.key) untrack(() => w.land.ask(ground, survey));
  });
  $effect(() => {
    const p = w.project;
    const road = w.road;
    if (!p?.surveys.length || !road) return;
    const [id, revision, key] = [p.id, p.revision, road.still_key];
    const drawn = `${key} ${system()}`;
    if (w.figures.still?.drawn !== drawn) untrack(() => w.figures.askStill(id, revision, road.slot, key, drawn));
  });
  $effect(() => writeBy(w.drawing.equations));
  $effect(() => openIn(w.project?.practice?.system));
  let read = system();
  $effect(() => {
    if (system() === read) return;
    read = system();
    untrack(() => void w.reread().catch((error: unknown) => w.notices.tell(error)));
  });
  $effect(() => {
    const [id, kept] = [w.project?.id, w.drawing.kept];
    if (id !== undefined) keepDraft(id, kept);
  });
  $effect(() => {
    const [p, road] = [w.project, w.road];
    void [w.beside.drawn, w.beside.offsets];
    if (p?.surveys.length && road) untrack(() => void w.beside.ask(p.id, p.revision, road.slot, road.still_key));
  });
  $effect(() => {
    const still = w.still;
    if (!still) return;
    untrack(() => {
      w.selection.axes.show([still.ground.start_m, still.ground.end_m]);
      w.selection.setPlumb(w.selection.plumb);
    });
  });
  $effect(() => {
    const [of, want] = [w.case, w.wanted];
    if (!of || !w.project?.surveys.length || !w.road) return;
    untrack(() => w.figures.askLine(of, want));
  });
  $effect(() => {
    const [p, road] = [w.project, w.road];
    if (!p?.surveys.length || !road || w.lines.length) return;
    untrack(() => w.figures.askBare(p.id, p.revision, road.slot));
  });
  $effect(() => {
    // The plumb line goes along with a held IP once its figures are there: readouts and section belong to them.
    const d = w.trial.draft;
    const at = d?.what === 'move' && w.figures.line ? w.ips[d.ip]?.chainage_m : undefined;
    if (at !== undefined) untrack(() => w.selection.setPlumb(at));
  });
  $effect(() => {
    const now = { figures: w.shownFigures, plumb: w.selection.plumb };
    const held = w.trial.draft !== null;
    untrack(() => w.aside.follow(now, held));
  });
  $effect(() => {
    // Before there is a line, the ground alone.
    const [bare, at] = [w.lines.length === 0 ? w.marked : null, w.selection.plumb];
    if (bare && w.still) untrack(() => w.figures.askSection(bare.of, at));
  });
  $effect(() => {
    // After the line's own figures: while an IP is held those come first.
    const { figures, plumb: at } = w.aside.value;
    const of = figures?.of;
    if (!of || !w.still || of.slot !== w.selection.slot) return;
    untrack(() => w.figures.askSection(of, at));
  });
  $effect(() => {
    // Pinned sections come after the line's own figures too.
    const [figures, pins] = [w.aside.value.figures, w.walk.pins];
    const of = figures?.of;
    if (!of || !w.still || of.slot !== w.selection.slot || !pins.length || w.selection.step !== 'sections') return;
    untrack(() => w.figures.askSections(of, pins, 'pinned'));
  });
  $effect(() => {
    const of = w.case;
    const want = [...(w.findings.length ? (['remedies'] as const) : []), 'clashes' as const, ...w.wantedAfter];
    if (!of || of.edits.length || !w.fresh || !want.length) return;
    untrack(() => w.figures.askAfter(of, want));
  });
  $effect(() => {
    const p = w.project;
    if (!p) return;
    // A line that was taken away elsewhere is looked at no more.
    const lines = w.lines;
    if (!lines.some((l) => l.slot === w.selection.slot)) untrack(() => w.take(lines[0]?.slot ?? null));
    untrack(() => void w.over.drawAll());
  });
}
