import type { Workspace, Step } from './state/workspace.svelte';
import { valueAt } from './deck/trace';

/** One thing a user can do, by name in the command box and by key. */
export interface Action {
  name: string;
  /** As tinykeys reads it; several are alternatives. */
  keys?: string[];
  /** As a person reads it. */
  shown?: string;
  run: () => void;
}

const LEVEL_STEPS = { fine: 0.005, plain: 0.05, coarse: 0.5 };
const CHAINAGE_STEPS = { fine: 0.1, plain: 1, coarse: 10 };
type Size = keyof typeof LEVEL_STEPS;

/** Keys held down try; the save comes when they rest. */
const REST_MS = 450;

export class Nudger {
  #timer: ReturnType<typeof setTimeout> | undefined;
  constructor(private readonly w: Workspace) {}

  nudge(up: number, along: number, size: Size): void {
    const { w } = this;
    if (w.selected === null || !w.ip) {
      if (along) w.setPlumb(w.plumb + along * CHAINAGE_STEPS[size]);
      return;
    }
    const held = w.draft?.what === 'move' && w.draft.ip === w.selected ? w.draft : w.ip;
    w.try({
      what: 'move',
      ip: w.selected,
      chainage_m: held.chainage_m + along * CHAINAGE_STEPS[size],
      level_m: held.level_m + up * LEVEL_STEPS[size],
      slide: true,
    });
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void w.keep(), REST_MS);
  }

  forget(): void {
    clearTimeout(this.#timer);
  }
}

export interface Shell {
  goTo: (step: Step) => void;
  theme: () => void;
  help: () => void;
  projects: () => void;
}

export function actionsOf(w: Workspace, shell: Shell, nudger: Nudger): Action[] {
  const step = (n: Step, name: string): Action => ({ name: `Go to ${name}`, run: () => shell.goTo(n) });
  const nudges: Action[] = (['plain', 'coarse', 'fine'] as Size[]).flatMap((size) => {
    const mod = { plain: '', coarse: 'Shift+', fine: 'Alt+' }[size];
    const how = (v: number) => `${v} m`;
    return [
      {
        name: `Lift the IP by ${how(LEVEL_STEPS[size])}`,
        keys: [`${mod}ArrowUp`],
        shown: `${mod}Up`,
        run: () => nudger.nudge(1, 0, size),
      },
      {
        name: `Lower the IP by ${how(LEVEL_STEPS[size])}`,
        keys: [`${mod}ArrowDown`],
        shown: `${mod}Down`,
        run: () => nudger.nudge(-1, 0, size),
      },
      {
        name: `Move IP or plumb line on by ${how(CHAINAGE_STEPS[size])}`,
        keys: [`${mod}ArrowRight`],
        shown: `${mod}Right`,
        run: () => nudger.nudge(0, 1, size),
      },
      {
        name: `Move IP or plumb line back by ${how(CHAINAGE_STEPS[size])}`,
        keys: [`${mod}ArrowLeft`],
        shown: `${mod}Left`,
        run: () => nudger.nudge(0, -1, size),
      },
    ];
  });
  return [
    { name: 'Undo', keys: ['$mod+z'], shown: 'Ctrl+Z', run: () => void w.turn('undo') },
    { name: 'Redo', keys: ['$mod+Shift+Z', '$mod+y'], shown: 'Ctrl+Shift+Z', run: () => void w.turn('redo') },
    {
      name: 'Next IP',
      keys: [']'],
      shown: ']',
      run: () => w.select(w.selected === null ? 0 : Math.min(w.selected + 1, w.ips.length - 1)),
    },
    {
      name: 'Previous IP',
      keys: ['['],
      shown: '[',
      run: () => w.select(w.selected === null ? 0 : Math.max(w.selected - 1, 0)),
    },
    { name: 'Next failure', keys: ['f'], shown: 'F', run: () => nextFailure(w) },
    { name: 'Add an IP on the line at the plumb line', keys: ['i'], shown: 'I', run: () => addHere(w) },
    {
      name: 'Delete the selected IP',
      keys: ['Delete', 'Backspace'],
      shown: 'Del',
      run: () => {
        const at = w.selected;
        if (at !== null && at > 0 && at < w.ips.length - 1) void w.apply({ what: 'delete', ip: at });
      },
    },
    {
      name: 'Put the held IP back, or let go of the selection',
      keys: ['Escape'],
      shown: 'Esc',
      run: () => {
        nudger.forget();
        if (w.draft) w.cancel();
        else if (w.selected !== null) w.selected = null;
        else w.pinned = false;
      },
    },
    ...nudges,
    { name: 'Show the whole line', keys: ['0'], shown: '0', run: () => w.axes.fit() },
    { name: 'Zoom in at the plumb line', keys: ['+', '='], shown: '+', run: () => w.axes.zoom(1.5, w.plumb) },
    { name: 'Zoom out', keys: ['-'], shown: '−', run: () => w.axes.zoom(1 / 1.5, w.plumb) },
    { name: 'Pin or free the plumb line', keys: ['p'], shown: 'P', run: () => (w.pinned = !w.pinned) },
    step('survey', 'the survey'),
    step('centreline', 'the centreline'),
    step('limits', 'the limits'),
    step('section', 'typical section and costs'),
    step('line', 'the grade line'),
    step('search', 'the search'),
    {
      name: 'Start the search',
      run: () => {
        shell.goTo('search');
        void w.startSearch();
      },
    },
    { name: 'Copy this grade line', run: () => void w.copyLine() },
    { name: 'Light or dark', keys: ['t'], shown: 'T', run: shell.theme },
    { name: 'List of projects', run: shell.projects },
    { name: 'Keys', keys: ['?'], shown: '?', run: shell.help },
  ];
}

function addHere(w: Workspace): void {
  const f = w.figures;
  if (!f) return;
  const level = valueAt(f.arrays.line_chainage!, f.arrays.line_level!, w.plumb);
  void w.apply({ what: 'add', chainage_m: w.plumb, level_m: level });
}

function nextFailure(w: Workspace): void {
  const after = w.findings.filter((u) => u.from_chainage_m > w.plumb + 0.01);
  const next = after[0] ?? w.findings[0];
  if (!next) {
    w.say('Nothing fails on this line.');
    return;
  }
  w.pinned = true;
  if (next.check.startsWith('no_')) w.setPlumb(next.from_chainage_m);
  else w.select(next.ip);
}
