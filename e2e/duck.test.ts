/** One sound makes room for another: seen, measured, set by how deep it shall go. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import { violations } from './axe.js';
import { act, beat, chosen, launch, row, stage, typed, until } from './browser.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

/** A ducker's cell in the matrix. */
const cell = (page: Page, key: string, target: string) =>
  page.getByRole('button', { name: new RegExp(`^${key} ducks ${target}: `) });

/** How deep a cell says that a ducker goes, in dB. */
async function depth(page: Page, key: string, target: string): Promise<number> {
  const label = (await cell(page, key, target).getAttribute('aria-label')) ?? '';
  return Number.parseFloat(label.split(': ')[1] ?? '');
}
const deep = (page: Page, key: string, target: string, db: number) =>
  until(
    () => depth(page, key, target),
    (found) => Math.abs(found + db) <= 0.3,
    `${target} is ducked by ${db} dB`,
  );
const value = (page: Page, label: string) =>
  page.getByRole('spinbutton', { name: label, exact: true }).getAttribute('aria-valuenow');

test('a bass makes room for the kick: from the matrix, to a depth, back before the next hit', async () => {
  const { page, faults } = await beat(browser, 'Room');
  await stage(page, 'Duck');
  await page.getByText('Nothing is ducked yet.').waitFor();
  await act(page, 'Add a key to duck by', 'Kick');
  await page.getByRole('button', { name: 'Duck Sub bass by Kick' }).click();
  await page.getByRole('heading', { name: 'Kick ducks Sub bass' }).waitFor();
  await deep(page, 'Kick', 'Sub bass', 6);
  await row(page, 'Sub bass')
    .getByText(/^back \d+ ms early$/)
    .waitFor();
  const hits = page.getByRole('region', { name: 'Hit by hit' }).locator('tbody tr');
  await until(
    () => hits.count(),
    (n) => n === 16,
    'a line for every beat of the loop',
  );
  for (const line of await hits.all()) {
    const [, db, full, back, early] = (await line.locator('td').allInnerTexts()).map(Number);
    assert.ok(Math.abs((db ?? 0) + 6) < 0.5, `as deep as all: ${db}`);
    // A beat at 96 bpm is 625 ms.
    assert.ok(
      (full ?? 0) < (back ?? 0) && Math.abs((back ?? 0) + (early ?? 0) - 625) < 2,
      `${back} ${early}`,
    );
  }
  assert.deepEqual(await violations(page, 'Duck'), []);

  // Another depth, and back.
  await typed(page, 'Depth of Kick on Sub bass', '3');
  await deep(page, 'Kick', 'Sub bass', 3);
  await page.getByRole('button', { name: 'Undo' }).click();
  await deep(page, 'Kick', 'Sub bass', 6);

  // The longest release: nearly none of the time to the next hit is left.
  await page.getByRole('button', { name: 'Back before the next hit' }).click();
  await row(page, 'Sub bass')
    .getByText(/^back [0-3] ms early$/)
    .waitFor();

  // Held, it goes as deep as it can; let go, nothing of it stays.
  const ratio = 'Ratio of the compressor of Sub bass';
  const before = await value(page, ratio);
  const undo = await page.getByRole('button', { name: 'Undo' }).getAttribute('title');
  const hold = page.getByRole('button', { name: 'Hold to exaggerate' });
  await hold.hover();
  await page.mouse.down();
  await until(
    () => value(page, ratio),
    (now) => now === '100',
    'exaggerated',
  );
  await page.mouse.up();
  await until(
    () => value(page, ratio),
    (now) => now === before,
    'as before',
  );
  assert.equal(await page.getByRole('button', { name: 'Undo' }).getAttribute('title'), undo);
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('several rows are ducked at once, by keys; another kind keeps its key, and a muted key ducks on', async () => {
  const { page, faults } = await beat(browser, 'Several');
  await stage(page, 'Duck');
  await act(page, 'Add a key to duck by', 'Kick');
  await chosen(page, 'Clap');
  await row(page, 'Sub bass').click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Duck Sub bass by Kick' }).focus();
  await page.keyboard.press('Enter');
  await cell(page, 'Kick', 'Clap').waitFor();
  await cell(page, 'Kick', 'Sub bass').waitFor();

  // One action made both; from one cell to the other by arrows; Delete takes one out.
  await cell(page, 'Kick', 'Clap').focus();
  await page.keyboard.press('ArrowDown');
  await until(
    () => page.evaluate(() => document.activeElement?.getAttribute('aria-label') ?? ''),
    (label) => !label.includes('Clap'),
    'another cell',
  );
  await cell(page, 'Kick', 'Clap').focus();
  await page.keyboard.press('Delete');
  await cell(page, 'Kick', 'Clap').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Undo' }).click();
  await cell(page, 'Kick', 'Clap').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await cell(page, 'Kick', 'Sub bass').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Redo' }).click();

  // Chosen with a row that is not ducked yet, those that are keep what they have.
  await chosen(page, 'Snare');
  await row(page, 'Sub bass').click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Duck Snare by Kick' }).click();
  await cell(page, 'Kick', 'Snare').waitFor();
  assert.equal(await cell(page, 'Kick', 'Sub bass').count(), 1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await cell(page, 'Kick', 'Snare').waitFor({ state: 'detached' });

  // A gate in its place keeps the key.
  await cell(page, 'Kick', 'Sub bass').click();
  await page.getByRole('button', { name: 'Show in Shape' }).click();
  await act(page, 'Another kind instead of Compressor', 'Gate');
  await stage(page, 'Duck');
  await cell(page, 'Kick', 'Sub bass').click();
  await page.getByRole('heading', { name: 'Kick ducks Sub bass' }).waitFor();
  await page.getByText('Gate', { exact: true }).first().waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();

  // A trigger on a rhythm ducks without any lane; it is seen as what it is, and feeds nothing but keys.
  await act(page, 'Add a key to duck by', 'a trigger on every beat');
  await row(page, 'Beat trigger').getByText('never heard; feeds keys').waitFor();
  await page.getByRole('button', { name: 'Duck Snare by Beat trigger' }).click();
  await deep(page, 'Beat trigger', 'Snare', 6);

  // A key before the fader does not hear the mute.
  await row(page, 'Kick').getByRole('button', { name: 'Mute Kick', exact: true }).click();
  await page.getByTitle('Key: Kick, muted').waitFor();
  await deep(page, 'Kick', 'Sub bass', 6);
  assert.deepEqual(faults, []);
  await page.context().close();
});
