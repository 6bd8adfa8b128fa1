import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig(({ mode }) => ({
  plugins: [tailwindcss(), svelte()],
  // The guide stands with the documents.
  server: { fs: { allow: ['..'] } },
  build: { target: 'es2023', assetsInlineLimit: 0 },
  // Components under test are those of a browser, not of a server.
  resolve: mode === 'test' ? { conditions: ['browser'] } : {},
  // A busy machine may take longer than the usual five seconds to read all components.
  test: { include: ['src/**/*.test.ts'], environment: 'node', testTimeout: 60_000 },
}));
