import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

export default ts.config(
  { ignores: ['dist', 'node_modules', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.strict,
  ...svelte.configs.recommended,
  {
    languageOptions: { globals: { window: 'readonly', document: 'readonly' } },
    rules: {
      // The compiler knows the globals of a browser better than a list does.
      'no-undef': 'off',
      // Indexing typed arrays inside their bounds is the daily bread of drawing.
      '@typescript-eslint/no-non-null-assertion': 'off',
    },
  },
  {
    files: ['src/lib/state/**'],
    ignores: ['**/*.test.ts'],
    rules: {
      // State is what panels and tracks are made over; they give themselves to it (state/shown.ts).
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: '^\\.\\./(deck|map|fields|section)/|/steps|/[A-Z]\\w+\\.svelte$',
              caseSensitive: true,
              message:
                'State knows no tracks, panels or drawings: what it needs of them is given to it, or lies below.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['**/*.svelte'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: 'api/client$',
              importNames: ['api', 'ask', 'upload'],
              message: 'Components ask the server through lib/state.',
            },
          ],
        },
      ],
    },
  },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
  },
);
