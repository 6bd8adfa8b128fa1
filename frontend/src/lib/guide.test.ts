// @vitest-environment jsdom
import { parse, type AST } from 'svelte/compiler';
import { expect, it } from 'vitest';
import { SHOWN } from '../steps/shown';
import { STEPS } from '../steps';
import { actionsOf } from './actions';
import { PAGES, shown, written } from './guide';
import { TOOLS } from './state/hand.svelte';
import { Work } from './state/work.svelte';

const nothing = () => {};
const plain = (text: string) => text.replace(/[*`]/g, '').replace(/\s+/g, ' ');
const guide = async () => plain((await Promise.all(PAGES.map(([id]) => written(id)))).join('\n'));

type Expression = AST.ExpressionTag['expression'];

/** What an expression may say: its own words, and an ellipsis for what is only known later. */
function words(e: Expression): string[] {
  if (e.type === 'Literal') return [String(e.value)];
  if (e.type === 'ConditionalExpression') return [...words(e.consequent), ...words(e.alternate)];
  if (e.type === 'CallExpression' && e.callee.type === 'Identifier' && e.callee.name === 'worded')
    return e.arguments.flatMap((a) => words(a as Expression));
  if (e.type === 'TemplateLiteral') return [e.quasis.map((q) => q.value.cooked).join('…')];
  return ['…'];
}

/** What stands on a button: every way it can read. */
function said(of: AST.Fragment | null | undefined): string[] {
  let all = [''];
  for (const node of of?.nodes ?? []) {
    let here = [''];
    if (node.type === 'Text') here = [node.data];
    else if (node.type === 'ExpressionTag') here = words(node.expression);
    else if (node.type === 'RegularElement' && !['svg', 'input'].includes(node.name)) here = said(node.fragment);
    else if (node.type === 'IfBlock') here = [...said(node.consequent), ...said(node.alternate)];
    else if (node.type !== 'Comment') here = ['…'];
    all = all.flatMap((a) => here.map((h) => a + h));
  }
  return all;
}

function isButton(node: AST.RegularElement): boolean {
  const named = node.attributes.find((a) => a.type === 'Attribute' && a.name === 'class') as AST.Attribute | undefined;
  const classes = Array.isArray(named?.value) ? named.value.map((v) => (v.type === 'Text' ? v.data : '')).join('') : '';
  return ['button', 'summary'].includes(node.name) || /\bbtn\b/.test(classes);
}

function buttonsIn(value: unknown, found: Set<string>): void {
  if (Array.isArray(value)) value.forEach((v) => buttonsIn(v, found));
  else if (value && typeof value === 'object') {
    const node = value as AST.RegularElement;
    if (node.type === 'RegularElement' && isButton(node))
      said(node.fragment).forEach((t) => found.add(plain(t).trim()));
    for (const [key, inner] of Object.entries(value)) if (key !== 'parent') buttonsIn(inner, found);
  }
}

const COMPONENTS = import.meta.glob<string>(['../**/*.svelte', '!../**/*.test.svelte'], {
  query: '?raw',
  import: 'default',
});

it('has a page for each step, which reads as HTML', async () => {
  expect(PAGES.map(([id]) => id)).toEqual(expect.arrayContaining(STEPS.map((s) => s.id)));
  for (const [id] of PAGES) expect(await shown(id)).toMatch(/^<h1>[^<]+<\/h1>[\s\S]*<p>/);
});

it('names every button, tool and command', async () => {
  const text = await guide();
  const found = new Set<string>();
  for (const read of Object.values(COMPONENTS)) buttonsIn(parse(await read(), { modern: true }).fragment, found);
  // Of words around what is only known later the longest; where there is much of that, it is a card and no name.
  const longest = (t: string) => t.split('…').sort((a, b) => b.length - a.length)[0]!;
  const buttons = [...found]
    .filter((t) => t.split('…').length < 4)
    .map((t) => longest(t).replace(/^[^\p{L}\d]+|[^\p{L}]+$/gu, ''))
    .filter((t) => t.length > 2 || t === 'IP');
  const commands = actionsOf(new Work(SHOWN), { theme: nothing, help: nothing, guide: nothing, projects: nothing });
  // A command for each step, track, sheet or way is named once; how far a nudge goes is said beside it.
  const named = commands.map((a) =>
    a.name
      .replace(/(^(?:Go to step|Show or hide track|On paper)).*|( by) [\d.]+ m$/, '$1$2')
      .replace(/way \d/, 'way 1'),
  );
  const missing = [...buttons, ...named, ...TOOLS.map((t) => t.name)].filter((t) => !text.includes(t));
  expect(buttons.length).toBeGreaterThan(100);
  expect([...new Set(missing)].sort()).toEqual([]);
});
