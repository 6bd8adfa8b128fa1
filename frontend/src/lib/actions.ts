import { SHEETS } from '../api/fields';
import { STEPS } from '../steps';
import { sheetAddress } from './address';
import { TRACKS } from './deck/tracks';
import { step } from './state/walk.svelte';
import type { Work } from './state/work.svelte';
import { readIn, system, unitLength, worded } from './system.svelte';
import { unitOf } from './units';

/** One thing a user can do, by name in the command box and by key. */
export interface Action {
  name: string;
  /** As tinykeys reads it; several are alternatives. */
  keys?: string[];
  /** As a person reads it. */
  shown?: string;
  run: () => void;
}

/** In the unit of length that is shown. */
const LEVEL_STEPS = { fine: 0.005, plain: 0.05, coarse: 0.5 };
const CHAINAGE_STEPS = { fine: 0.1, plain: 1, coarse: 10 };
/** Ways on have keys by their place in the list. */
const WAYS = [1, 2, 3, 4, 5, 6];
type Size = keyof typeof LEVEL_STEPS;

/** Arrows move the selected IP, or the plumb line where none is selected. */
function nudge(w: Work, up: number, along: number, size: Size): void {
  const unit = unitLength();
  if (w.selection.ip !== null) w.nudge(along * CHAINAGE_STEPS[size] * unit, up * LEVEL_STEPS[size] * unit);
  else if (along) w.selection.setPlumb(w.selection.plumb + along * CHAINAGE_STEPS[size] * unit);
}

export interface Shell {
  theme: () => void;
  help: () => void;
  guide: () => void;
  projects: () => void;
}

export function actionsOf(w: Work, shell: Shell): Action[] {
  const { selection } = w;
  const steps = STEPS.map((s): Action => ({ name: `Go to step: ${s.name}`, run: () => w.goToStep(s.id) }));
  // The long section always stays: it is the one that takes what room is left.
  const hideable = Object.values(TRACKS).filter((t) => t.height !== undefined);
  const tracks = hideable.map((t): Action => ({
    name: `Show or hide track: ${worded(t.name)}`,
    run: () => w.layout.toggle(selection.step, t.id),
  }));
  const nudges: Action[] = (['plain', 'coarse', 'fine'] as Size[]).flatMap((size) => {
    const mod = { plain: '', coarse: 'Shift+', fine: 'Alt+' }[size];
    const how = (v: number) => `${v} ${unitOf('size')}`;
    return [
      {
        name: `Lift the IP by ${how(LEVEL_STEPS[size])}`,
        keys: [`${mod}ArrowUp`],
        shown: `${mod}Up`,
        run: () => nudge(w, 1, 0, size),
      },
      {
        name: `Lower the IP by ${how(LEVEL_STEPS[size])}`,
        keys: [`${mod}ArrowDown`],
        shown: `${mod}Down`,
        run: () => nudge(w, -1, 0, size),
      },
      {
        name: `Move IP or plumb line on by ${how(CHAINAGE_STEPS[size])}`,
        keys: [`${mod}ArrowRight`],
        shown: `${mod}Right`,
        run: () => nudge(w, 0, 1, size),
      },
      {
        name: `Move IP or plumb line back by ${how(CHAINAGE_STEPS[size])}`,
        keys: [`${mod}ArrowLeft`],
        shown: `${mod}Left`,
        run: () => nudge(w, 0, -1, size),
      },
    ];
  });
  const sheets = SHEETS.map((s): Action => ({
    name: `On paper: ${s.title.toLowerCase()}`,
    run: () => {
      if (w.project && w.line) location.hash = sheetAddress(w.project.id, s.name, w.line.slot);
      else w.notices.say('There is no grade line yet: make one first.');
    },
  }));
  return [
    { name: 'Undo', keys: ['$mod+z'], shown: 'Ctrl+Z', run: () => void w.turn('undo') },
    { name: 'Redo', keys: ['$mod+Shift+Z', '$mod+y'], shown: 'Ctrl+Shift+Z', run: () => void w.turn('redo') },
    { name: 'History: look back, restore, name a state', keys: ['h'], shown: 'H', run: () => toggleHistory(w) },
    {
      name: 'Next IP',
      keys: [']'],
      shown: ']',
      run: () => w.select(selection.ip === null ? 0 : Math.min(selection.ip + 1, w.ips.length - 1)),
    },
    {
      name: 'Previous IP',
      keys: ['['],
      shown: '[',
      run: () => w.select(selection.ip === null ? 0 : Math.max(selection.ip - 1, 0)),
    },
    { name: 'Next section', keys: ['.'], shown: '.', run: () => step(w, 1) },
    { name: 'Previous section', keys: [','], shown: ',', run: () => step(w, -1) },
    { name: 'Pin the section, or free it', keys: ['k'], shown: 'K', run: () => w.walk.pin(selection.plumb) },
    { name: 'Next failure', keys: ['f'], shown: 'F', run: () => nextFailure(w) },
    {
      name: 'Add an IP on the line at the plumb line',
      keys: ['i'],
      shown: 'I',
      run: () => w.act(w.apply({ what: 'split', chainage_m: selection.plumb })),
    },
    {
      name: 'Type into the selected IP',
      keys: ['Enter'],
      shown: 'Enter',
      run: () => document.getElementById(selection.ip === null ? 'put-how' : 'ip-level')?.focus(),
    },
    ...WAYS.map((n): Action => ({
      name: `Take way ${n} of what could be instead`,
      keys: [`Alt+${n}`],
      shown: `Alt+${n}`,
      run: () => {
        const way = w.refused.now?.ways[n - 1];
        if (way) w.takeWay(way);
      },
    })),
    {
      name: 'Delete the selected IP',
      keys: ['Delete', 'Backspace'],
      shown: 'Del',
      run: () => {
        const at = selection.ip;
        if (at !== null && at > 0 && at < w.ips.length - 1) w.act(w.apply({ what: 'delete', ip: at }));
      },
    },
    {
      name: 'Put the held IP back, or let go of the selection',
      keys: ['Escape'],
      shown: 'Esc',
      run: () => {
        if (w.trial.draft) w.cancel();
        else if (selection.drawsControl) selection.drawsControl = false;
        else if (selection.ip !== null) w.select(null);
        else selection.pinned = false;
      },
    },
    ...nudges,
    {
      name: 'Let dragged IPs snap, or not',
      keys: ['s'],
      shown: 'S',
      run: () => (selection.axes.snaps = !selection.axes.snaps),
    },
    { name: 'Zoom to the selected IP', keys: ['z'], shown: 'Z', run: () => zoomToIp(w) },
    { name: 'Show the whole line', keys: ['0'], shown: '0', run: () => selection.axes.fit() },
    {
      name: 'Zoom in at the plumb line',
      keys: ['+', '='],
      shown: '+',
      run: () => selection.axes.zoom(1.5, selection.plumb),
    },
    { name: 'Zoom out', keys: ['-'], shown: '−', run: () => selection.axes.zoom(1 / 1.5, selection.plumb) },
    { name: 'Pin or free the plumb line', keys: ['p'], shown: 'P', run: () => (selection.pinned = !selection.pinned) },
    ...steps,
    ...sheets,
    ...tracks,
    {
      name: 'Start the search',
      run: () => {
        w.goToStep('search');
        void w.startSearch();
      },
    },
    {
      name: 'Curves as the limits ask, for all IPs',
      run: () => {
        const ips = w.ips.slice(1, -1).map((_, i) => ({ ip: i + 1 }));
        if (ips.length) w.act(w.apply({ what: 'curves_by_limits', ips, kind: 'limits', follow: true }));
      },
    },
    { name: 'New line along the ground', run: () => w.act(w.making.along(null, null)) },
    { name: 'New straight line', run: () => w.act(w.making.straight()) },
    { name: 'Copy this grade line', run: () => w.act(w.making.copy()) },
    { name: 'Read in metres or feet', keys: ['u'], shown: 'U', run: () => turnUnits(w) },
    { name: 'Light or dark', keys: ['t'], shown: 'T', run: shell.theme },
    { name: 'List of projects', run: shell.projects },
    { name: 'Help for this step', keys: ['F1'], shown: 'F1', run: shell.guide },
    { name: 'Keys', keys: ['?'], shown: '?', run: shell.help },
  ];
}

/** Read in feet what is read in metres, and the other way; in the project's own system nothing is kept of it. */
function turnUnits(w: Work): void {
  const theirs = w.project?.practice?.system ?? 'metric';
  const other = system() !== 'metric' ? 'metric' : theirs === 'us_survey' ? 'us_survey' : 'us';
  readIn(other === theirs ? null : other);
}

export function toggleHistory(w: Work): void {
  if (w.past.open) w.past.close();
  else w.past.open = true;
}

/** Show the selected IP with its neighbours. */
export function zoomToIp(w: Work): void {
  const i = w.selection.ip;
  if (i === null) return;
  const [a, b] = [w.ips[Math.max(i - 1, 0)], w.ips[Math.min(i + 1, w.ips.length - 1)]];
  if (a && b) w.selection.axes.zoomTo(a.chainage_m, b.chainage_m);
}

export function nextFailure(w: Work): void {
  const failures = w.findings.filter((u) => !u.advice);
  const after = failures.filter((u) => u.from_chainage_m > w.selection.plumb + 0.01);
  const next = after[0] ?? failures[0];
  if (!next) {
    w.notices.say('Nothing fails on this line.');
    return;
  }
  w.selection.pinned = true;
  w.goTo(next);
  const { axes } = w.selection;
  // Where a failure is too small to be seen the view goes nearer.
  if (axes.scale * (next.to_chainage_m - next.from_chainage_m) < 60)
    axes.zoomTo(next.from_chainage_m - 50, next.to_chainage_m + 50);
}
