import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  build: { target: 'es2023', assetsInlineLimit: 0 },
  test: { include: ['src/**/*.test.ts'], environment: 'node' },
});
