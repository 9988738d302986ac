import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';
import { licences } from './build/licences';

const room = (name: string) => new URL(`./src/${name}`, import.meta.url).pathname;

export default defineConfig({
  plugins: [svelte(), tailwindcss(), licences(import.meta.dirname)],
  resolve: { alias: { $lib: room('lib'), $stages: room('stages'), $testing: room('testing') } },
  worker: { format: 'es' },
  test: {
    projects: [
      {
        extends: true,
        test: {
          name: 'node',
          include: ['src/**/*.test.ts', 'build/*.test.ts'],
          exclude: ['**/*.svelte.test.ts'],
        },
      },
      // What effects do where they begin and end.
      {
        extends: true,
        test: { name: 'page', include: ['src/**/*.svelte.test.ts'], environment: './build/page.ts' },
        resolve: { conditions: ['browser'] },
      },
    ],
  },
  build: { target: 'es2023', assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { proxy: { '/api': 'http://127.0.0.1:8470' } },
});
