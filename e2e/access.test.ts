/** Every stage and tab is open to everybody: contrast, names, headings and focus, in both themes. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser } from 'playwright-core';
import { violations } from './axe.js';
import { ADDRESS, beat, launch, row, stage, until } from './browser.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

// The other theme differs in its colours alone.
for (const [colorScheme, rules] of [
  ['light', []],
  ['dark', ['color-contrast']],
] as ['light' | 'dark', string[]][]) {
  test(`every stage and tab can be used by everybody, ${colorScheme}`, async () => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme });
    await page.goto(ADDRESS);
    const open = page.getByRole('button', { name: 'Open the demo' });
    await open.waitFor();
    const wrong = await violations(page, 'sign in', rules);
    await open.click();
    const line = page.getByText('Copper Weather').first();
    await line.waitFor();
    wrong.push(...(await violations(page, 'sessions', rules)));
    await line.click();
    await page.getByRole('navigation', { name: 'Stages' }).waitFor();
    for (const name of ['Bring in', 'Route', 'Levels', 'Shape', 'Duck', 'Parallel', 'Compare', 'Track out']) {
      await stage(page, name);
      await page.locator('[aria-current=page]').getByText(name).waitFor();
      wrong.push(...(await violations(page, name, rules)));
      for (const tab of await page.getByRole('tab').all()) {
        await tab.click();
        wrong.push(...(await violations(page, `${name}, ${await tab.innerText()}`, rules)));
      }
    }
    assert.deepEqual(wrong, []);
    await page.close();
  });
}

test('rows are walked, chosen together and apart, and regions reached, by keys alone', async () => {
  const { page, faults } = await beat(browser, 'By keys');
  const chosenRows = () =>
    page
      .locator('[role=row][aria-selected=true]')
      .evaluateAll((rows) => rows.map((r) => r.getAttribute('data-row')).join());
  const at = () => page.evaluate(() => document.activeElement?.getAttribute('data-row'));
  await row(page, 'Clap').click({ position: { x: 60, y: 10 } });
  await page.keyboard.press('ArrowDown');
  assert.equal(await chosenRows(), 'Kick');
  await page.keyboard.press('Control+ArrowDown');
  await page.keyboard.press('Control+ArrowDown');
  assert.equal(await at(), 'Sub bass');
  assert.equal(await chosenRows(), 'Kick');
  await page.keyboard.press('Control+Space');
  await until(chosenRows, (names) => names === 'Kick,Sub bass', 'two rows apart');

  const region = () =>
    page.evaluate(() => {
      const inside = (selector: string) => document.activeElement?.closest(selector) !== null;
      return ['header', 'nav', '[role=grid]', '[data-bench]'].find(inside);
    });
  const seen: (string | undefined)[] = [];
  for (let n = 0; n < 4; n++) {
    await page.keyboard.press('F6');
    seen.push(await region());
  }
  assert.deepEqual(seen, ['[data-bench]', 'header', 'nav', '[role=grid]']);

  // What is removed leaves the next row chosen and in focus.
  await page.keyboard.press('Delete');
  await row(page, 'Kick').waitFor({ state: 'detached' });
  assert.equal(await at(), await chosenRows());

  // Undo says what it undid; the browser's way back goes through stages.
  await page.keyboard.press('Control+z');
  await page
    .getByTestId('walked')
    .getByText(/^Undone: /)
    .waitFor();
  await stage(page, 'Levels');
  await stage(page, 'Shape');
  await page.goBack();
  await page.locator('[aria-current=page]').getByText('Levels').waitFor();
  await page.goForward();
  await page.locator('[aria-current=page]').getByText('Shape').waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});
