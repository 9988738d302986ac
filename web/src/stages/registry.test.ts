import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { STAGES } from './registry';

const root = new URL('../../../', import.meta.url);
const readme = readFileSync(new URL('README.md', root), 'utf8');

describe('stages', () => {
  test('each has an id and a key of its own', () => {
    expect(new Set(STAGES.map((s) => s.id)).size).toBe(STAGES.length);
    expect(new Set(STAGES.map((s) => s.key)).size).toBe(STAGES.length);
  });

  test.each(STAGES.map((s) => s.id))('%s has a picture for the README', (id) => {
    expect(existsSync(new URL(`docs/screenshots/${id}.png`, root))).toBe(true);
  });

  test('every picture is shown in the README, and every one that it shows is there', () => {
    const shown = [...readme.matchAll(/docs\/screenshots\/([\w-]+\.png)/g)].map((m) => m[1]);
    expect(shown.toSorted()).toEqual(readdirSync(new URL('docs/screenshots/', root)).toSorted());
  });
});
