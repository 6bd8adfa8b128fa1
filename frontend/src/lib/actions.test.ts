// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from '@testing-library/svelte';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Edit, Finding, Ledger as Money, Project } from '../api/client';
import { actionsOf, type Action, type Shell } from './actions';
import CommandBox from './CommandBox.svelte';
import Ledger from './Ledger.svelte';
import type { Figured } from './state/figures.svelte';
import { Work } from './state/work.svelte';
import { SHOWN } from '../steps/shown';
import WithWork from './WithWork.test.svelte';

let w: Work;
let shell: Shell;
let actions: Action[];

const run = (name: string) => actions.find((a) => a.name === name)!.run();
const finding = (ip: number, from: number, place = 'ip') => ({ ip, place, from_chainage_m: from }) as Finding;
const ip = (chainage_m: number, level_m: number) => ({ chainage_m, level_m, curve_length_m: 0 });

function figures(ledger: Partial<Money>, findings: Finding[] = []): Figured {
  const arrays = { line_chainage: Float32Array.of(0, 1000), line_level: Float32Array.of(100, 200) };
  const ips = [ip(0, 100), ip(400, 140), ip(700, 170), ip(1000, 200)];
  const of = { project: 1, revision: 3, slot: 'line-1', ips: null, edits: [] };
  const products = { line: { ips }, uses: { findings }, ledger: { worst_use: null, ...ledger } };
  return { of, products, arrays } as unknown as Figured;
}

beforeEach(() => {
  w = new Work(SHOWN);
  w.store.project = {
    id: 1,
    revision: 3,
    cost: { currency: 'EUR' },
    lines: [{ slot: 'line-1', name: 'a', colour: 0, ips: [] }],
  } as unknown as Project;
  w.selection.slot = 'line-1';
  w.selection.axes.show([0, 1000]);
  w.figures.line = figures({ cost: 1000 });
  shell = { theme: vi.fn(), help: vi.fn(), guide: vi.fn(), projects: vi.fn() };
  actions = actionsOf(w, shell);
});
afterEach(cleanup);

describe('actions', () => {
  it('have a name and a key of their own', () => {
    const names = actions.map((a) => a.name);
    expect(new Set(names).size).toBe(names.length);
    const keys = actions.flatMap((a) => a.keys ?? []);
    expect(new Set(keys).size).toBe(keys.length);
    // Whatever has a key says it to a person.
    expect(actions.filter((a) => a.keys && !a.shown)).toEqual([]);
  });

  it('hide and show every track but the long section', () => {
    expect(actions.some((a) => a.name.endsWith('track: Long section'))).toBe(false);
    run('Show or hide track: Use of limits');
    expect(w.layout.shown(w.selection.step)).not.toContain('use');
    run('Show or hide track: Use of limits');
    expect(w.layout.shown(w.selection.step)).toContain('use');
    w.layout.reset(w.selection.step);
  });

  it('walk from IP to IP and stop at the ends', () => {
    run('Next IP');
    expect([w.selection.ip, w.selection.plumb]).toEqual([0, 0]);
    for (let i = 0; i < 9; i++) run('Next IP');
    expect([w.selection.ip, w.selection.plumb]).toEqual([3, 1000]);
    run('Previous IP');
    expect(w.selection.ip).toBe(2);
  });

  it('go round the failures, by IP where there is one and by chainage where not', () => {
    w.figures.line = figures({}, [finding(1, 300), finding(0, 800, 'stretch')]);
    run('Next failure');
    expect([w.selection.ip, w.selection.plumb, w.selection.pinned]).toEqual([1, 400, true]);
    run('Next failure');
    expect([w.selection.ip, w.selection.plumb]).toEqual([1, 800]);
    run('Next failure');
    expect(w.selection.plumb).toBe(400);
    w.figures.line = figures({});
    run('Next failure');
    expect(w.notices.shown?.text).toBe('Nothing fails on this line.');
  });

  it('add an IP on the line at the plumb line, and delete only inner ones', () => {
    const applied: Edit[] = [];
    vi.spyOn(w, 'apply').mockImplementation(async (edit) => {
      applied.push(edit);
      return null;
    });
    w.selection.setPlumb(250);
    run('Add an IP on the line at the plumb line');
    for (const selected of [0, 1, 3]) {
      w.selection.ip = selected;
      run('Delete the selected IP');
    }
    expect(applied).toEqual([
      { what: 'split', chainage_m: 250 },
      { what: 'delete', ip: 1 },
    ]);
  });

  it('let go step by step: the held IP, then the selection, then the pin', () => {
    w.selection.ip = 1;
    w.selection.pinned = true;
    w.try({ what: 'move', ip: 1, chainage_m: 410, level_m: 141, slide: true });
    const esc = 'Put the held IP back, or let go of the selection';
    run(esc);
    expect([w.trial.draft, w.selection.ip, w.selection.pinned]).toEqual([null, 1, true]);
    run(esc);
    expect([w.selection.ip, w.selection.pinned]).toEqual([null, true]);
    run(esc);
    expect(w.selection.pinned).toBe(false);
  });
});

describe('the command box', () => {
  it('finds an action by parts of its name and runs it on Enter', async () => {
    const onclose = vi.fn();
    render(CommandBox, { actions, onclose });
    const input = screen.getByLabelText('What to do');
    await fireEvent.input(input, { target: { value: 'light da' } });
    expect(screen.getAllByRole('option')).toHaveLength(1);
    await fireEvent.keyDown(input, { key: 'Enter' });
    expect(shell.theme).toHaveBeenCalledOnce();
    expect(onclose).toHaveBeenCalled();
  });

  it('says so when nothing is called that', async () => {
    render(CommandBox, { actions, onclose: vi.fn() });
    await fireEvent.input(screen.getByLabelText('What to do'), { target: { value: 'fly' } });
    expect(screen.getByText('No action is called that.')).toBeTruthy();
  });
});

describe('the ledger', () => {
  const item = (name: string) => document.querySelector(`[data-item="${name}"]`)!;
  const base = {
    cost: 1000,
    cut_m3: 500,
    fill_m3: 400,
    haul_m3_m: 1e6,
    topsoil_m3: 70,
    footprint_m2: 20000,
    failures: 0,
  };

  it('shows totals with units, and changes only while something is held', () => {
    w.figures.line = figures(base);
    render(WithWork, { w, of: Ledger });
    expect(item('cost').textContent).toContain('cost, EUR');
    expect(item('haul').querySelector('b')!.textContent).toBe('1\u2009000');
    expect(item('cost').querySelector('.delta')!.textContent).toBe('');
  });

  it('says the direction of every change, and that there is none', () => {
    w.trial.before = base as never;
    w.trial.draft = { what: 'move', ip: 1, chainage_m: 1, level_m: 1, slide: true };
    w.figures.line = figures({ ...base, cost: 1250.4, cut_m3: 300, footprint_m2: 20120 });
    render(WithWork, { w, of: Ledger });
    const deltas = ['cost', 'cut', 'fill', 'footprint'].map((n) => item(n).querySelector('.delta')!.textContent);
    expect(deltas).toEqual(['+250', '−200', 'no change', '+0.012']);
  });

  it('tells failures by mark and word, not by colour alone', () => {
    w.figures.line = figures({
      ...base,
      failures: 2,
      worst_use: { use: 1.07, name: 'Crest K', brief: '', chainage_m: 3638 },
    });
    render(WithWork, { w, of: Ledger });
    expect(item('worst').textContent).toContain('✕ 2 fail');
    expect(item('worst').textContent).toContain('Crest K at 3+638');
  });
});

describe('tracks', () => {
  it('change their order, height and hiding for one step, and remember it', () => {
    const { layout } = w;
    expect(layout.shown('line')).toEqual(['bends', 'long', 'levels', 'difference', 'use', 'ips']);
    layout.move('line', 'use', -1);
    layout.toggle('line', 'bends');
    layout.resize('line', 'levels', 5);
    const again = new Work(SHOWN).layout;
    expect(again.shown('line')).toEqual(['long', 'levels', 'use', 'difference', 'ips']);
    expect(again.height('line', 'levels')).toBe(28);
    expect(again.shown('search')).toEqual(['strip', 'long', 'use', 'mass']);
    again.place('line', 'ips', 'long');
    expect(again.shown('line')[0]).toBe('ips');
    again.reset('line');
    expect(new Work(SHOWN).layout.shown('line')).toEqual(['bends', 'long', 'levels', 'difference', 'use', 'ips']);
  });
});
