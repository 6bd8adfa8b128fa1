// Writes public/licences.txt: the licence of every package whose code, styles or fonts are shipped.
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const SHIPPED = [
  'svelte',
  'tailwindcss',
  'daisyui',
  'openapi-fetch',
  'tinykeys',
  'd3-scale',
  'd3-selection',
  'd3-zoom',
  'ol',
  'three',
  '@fontsource-variable/overpass',
  '@fontsource-variable/overpass-mono',
  '@fontsource/open-sans',
];

const seen = new Map();
const visit = (name) => {
  if (seen.has(name)) return;
  const folder = join('node_modules', name);
  const about = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));
  const file = readdirSync(folder).find((f) => /^licen[cs]e/i.test(f));
  seen.set(name, {
    head: `${name} ${about.version}, ${about.license ?? 'see below'}`,
    text: file ? readFileSync(join(folder, file), 'utf8').trim() : '',
  });
  // Compilers' own dependencies are not shipped; those of the small run-time libraries are.
  if (/^(d3-|openapi-|ol$)/.test(name))
    for (const next of Object.keys(about.dependencies ?? {})) if (existsSync(join('node_modules', next))) visit(next);
};
SHIPPED.forEach(visit);
const parts = [...seen.values()].map(({ head, text }) => `${head}\n${'-'.repeat(head.length)}\n${text}`);
writeFileSync('public/licences.txt', parts.join('\n\n\n') + '\n');
