/** What keeps somebody from using a page, as axe finds it. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { AxeResults } from 'axe-core';
import type { Page } from 'playwright-core';

const SOURCE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/**
 * What is wrong with the page as it stands, each with the first place.
 *
 * * `rules` – the only ones to look at; all where none is named.
 */
export async function violations(page: Page, where: string, rules: string[] = []): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(SOURCE);
  const found = await page.evaluate(async (rules) => {
    // Colours under a picture that lies over the page, and that nobody can press, would not be looked at.
    const over = [...document.querySelectorAll<HTMLElement>('canvas.pointer-events-none')];
    for (const picture of over) picture.hidden = true;
    const { axe } = globalThis as unknown as { axe: { run: (options: object) => Promise<AxeResults> } };
    // Where each thing stands is told by its HTML; selectors of all that passes take most of the time.
    const told = { resultTypes: ['violations'], selectors: false };
    const seen = await axe.run(rules.length > 0 ? { ...told, runOnly: rules } : told);
    for (const picture of over) picture.hidden = false;
    return seen;
  }, rules);
  return found.violations.map(({ id, nodes }) => `${where}: ${id} at ${nodes[0]?.html.slice(0, 160)}`);
}
