import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [svelte(), tailwindcss()],
  resolve: { alias: { $lib: new URL('./src/lib', import.meta.url).pathname } },
  worker: { format: 'es' },
  test: { include: ['src/**/*.test.ts'], environment: 'node' },
  build: { target: 'es2023', assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { proxy: { '/api': 'http://127.0.0.1:8470' } },
});
