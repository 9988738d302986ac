import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';
import { licences } from './build/licences';

export default defineConfig({
  plugins: [svelte(), tailwindcss(), licences(import.meta.dirname)],
  resolve: { alias: { $lib: new URL('./src/lib', import.meta.url).pathname } },
  worker: { format: 'es' },
  test: { include: ['src/**/*.test.ts', 'build/*.test.ts'], environment: 'node' },
  build: { target: 'es2023', assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { proxy: { '/api': 'http://127.0.0.1:8470' } },
});
