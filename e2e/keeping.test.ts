/** Sessions kept, moved, removed; routing of voices that share; time and rates; what can be stopped. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import { act, drop, freshSession, goesTo, launch, level, open, row, stage, until } from './browser.js';
import { drumLoop, tone } from './wav.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

const chosen = (page: Page, name: string, modifiers?: ('Control' | 'Shift')[]) =>
  row(page, name).click({ position: { x: 60, y: 10 }, modifiers });
const saved = (page: Page) => page.getByText('saved', { exact: true }).waitFor();
const toSessions = async (page: Page) => {
  await page.getByRole('button', { name: 'Menu' }).click();
  await page.getByRole('menuitem', { name: 'All sessions' }).click();
};

test('a session goes out as a folder, comes in again, is removed, and its owner signs out', async () => {
  const { page, faults } = await freshSession(browser, 'Harbour');
  await drop(page, [{ name: 'kick.wav', bytes: tone(55, 0.4) }]);
  await row(page, 'Kick').waitFor();
  await saved(page);
  await page.getByRole('button', { name: 'Menu' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Export as a session folder' }).click(),
  ]);
  assert.equal(file.suggestedFilename(), 'Harbour.zip');
  const bytes = readFileSync(await file.path());
  await toSessions(page);
  await page
    .getByLabel('Session folder as a ZIP file')
    .setInputFiles({ name: 'Harbour.zip', mimeType: 'application/zip', buffer: bytes });
  await row(page, 'Kick').waitFor();
  await toSessions(page);
  const lines = page.getByRole('link', { name: /Harbour/ });
  await until(
    () => lines.count(),
    (n) => n === 2,
    'both are listed',
  );
  await page.getByLabel('Session folder as a ZIP file').setInputFiles({
    name: 'torn.zip',
    mimeType: 'application/zip',
    buffer: bytes.subarray(0, 300),
  });
  await page.getByRole('alert').waitFor();

  await page.getByRole('button', { name: 'Remove Harbour' }).first().click();
  await page.getByRole('button', { name: 'Keep it' }).click();
  assert.equal(await lines.count(), 2);
  await page.getByRole('button', { name: 'Remove Harbour' }).first().click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'Remove' }).click();
  await until(
    () => lines.count(),
    (n) => n === 1,
    'one is gone',
  );
  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.getByRole('button', { name: 'Make an account' }).waitFor();
  await page.reload();
  await page.getByRole('button', { name: 'Make an account' }).waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('voices share a channel and part again, a bus is removed, rows are moved', async () => {
  const { page, faults } = await freshSession(browser, 'Shared');
  await drop(page, [
    { name: 'hat closed.wav', bytes: tone(6000, 0.1) },
    { name: 'hat open.wav', bytes: tone(5000, 0.4) },
    { name: 'snare.wav', bytes: tone(200, 0.2) },
  ]);
  await row(page, 'Snare').waitFor();
  await stage(page, 'Route');
  await chosen(page, 'Hat closed');
  await chosen(page, 'Hat open', ['Control']);
  await page.getByRole('button', { name: 'Share the channel of Hat closed' }).click();
  await row(page, 'Hat open').getByText('shares with Hat closed').waitFor();
  await page.getByRole('button', { name: 'Channels of their own' }).click();
  await row(page, 'Hat open').getByText('shares with').waitFor({ state: 'detached' });

  await page.getByLabel('Name of the new bus').fill('Tops');
  await page.getByRole('button', { name: 'Put on a new bus' }).click();
  await until(
    () => goesTo(page, 'Hat open'),
    (to) => to === 'Tops',
    'on the bus',
  );
  await chosen(page, 'Tops');
  await page.getByRole('button', { name: 'Remove Tops …' }).click();
  await page.getByRole('group', { name: 'Remove Tops' }).getByRole('button', { name: 'Remove Tops' }).click();
  await until(
    () => goesTo(page, 'Hat open'),
    (to) => to === 'Mix bus',
    'where the bus went',
  );
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Tops').waitFor();

  await row(page, 'Snare').locator('[draggable=true]').dragTo(row(page, 'Hat closed'));
  await until(
    () => page.locator('[data-row]').first().getAttribute('data-row'),
    (name) => name === 'Snare',
    'the snare is first',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('metre, key, swing, sections and pan law are set where they stand', async () => {
  const { page, faults } = await freshSession(browser, 'Time');
  await page.getByRole('tab', { name: 'Song' }).click();
  await page.getByLabel('Metre').selectOption({ label: '6/8' });
  await page.getByText('bpm · 6/8').waitFor();
  await page.getByLabel('Key', { exact: true }).fill('G min');
  await page.getByLabel('Key', { exact: true }).press('Enter');
  await page.getByRole('button', { name: 'Add a section' }).click();
  await page.getByRole('button', { name: 'Add a section' }).click();
  const sections = page.locator('[data-section]');
  await until(
    () => sections.count(),
    (n) => n === 3,
    'three sections',
  );
  await page.locator('[data-section="Section 3"] [draggable]').dragTo(page.locator('[data-section="A"]'));
  await until(
    () => sections.first().getAttribute('data-section'),
    (name) => name === 'Section 3',
    'the last is first',
  );
  await act(page, 'New pattern of its own for Section 2', 'A copy of this one');
  await page.getByRole('button', { name: 'Remove Section 3' }).click();
  await stage(page, 'Levels');
  await page.getByLabel('Pan law').selectOption({ index: 1 });
  await saved(page);
  await page.reload();
  await page.getByText('bpm · 6/8').waitFor();
  const law = await page.getByLabel('Pan law').evaluate((s: HTMLSelectElement) => s.selectedIndex);
  assert.equal(law, 1);
  await stage(page, 'Bring in');
  assert.equal(await page.getByLabel('Key', { exact: true }).inputValue(), 'G min');
  await until(
    () => sections.count(),
    (n) => n === 2,
    'kept',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

for (const rate of ['44.1 kHz', '88.2 kHz', '96 kHz']) {
  test(`a session at ${rate} plays what is dropped and renders at its rate`, async () => {
    const { page, faults } = await freshSession(browser, `At ${rate}`, rate);
    await drop(page, [{ name: 'kick.wav', bytes: tone(55, 0.4, 48_000) }]);
    await row(page, 'Kick').waitFor();
    await page.getByRole('tab', { name: 'Pattern' }).click();
    await page.getByRole('button', { name: 'Every beat' }).click();
    await page.getByRole('button', { name: 'Play' }).click();
    await until(
      () => level(page, 'Kick'),
      (db) => db !== null && db > -30,
      'the kick sounds',
    );
    await page.getByRole('button', { name: 'Stop' }).click();
    await stage(page, 'Track out');
    await page.getByRole('button', { name: 'Track out', exact: true }).last().click();
    await page.getByTestId('render-status').getByText('done').waitFor();
    assert.deepEqual(faults, []);
    await page.context().close();
  });
}

test('bringing in and rendering can be stopped', async () => {
  const { page, faults } = await freshSession(browser, 'Stopped');
  const long = drumLoop(120, 60, [0, 8, 16], [4, 12]);
  // The server answers only after the click on Cancel, so that there is something to stop.
  let answer = (): void => undefined;
  const stopped = new Promise<void>((resolve) => (answer = resolve));
  await page.route('**/bring-in*', async (route) => {
    await stopped;
    await route.continue().catch(() => undefined);
  });
  await drop(page, [{ name: 'long.wav', bytes: long }]);
  await page.getByRole('button', { name: 'Cancel' }).click();
  answer();
  await page.getByRole('button', { name: 'Cancel' }).waitFor({ state: 'detached' });
  assert.equal(await row(page, 'Long').count(), 0);
  await page.unroute('**/bring-in*');
  await drop(page, [{ name: 'long.wav', bytes: long }]);
  await row(page, 'Long').waitFor();
  await saved(page);
  await stage(page, 'Track out');
  await page.getByRole('button', { name: 'Track out', exact: true }).last().click();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await page
    .getByTestId('render-status')
    .getByText(/cancelled/)
    .waitFor();
  assert.equal(await page.getByRole('link', { name: /^Download render 1/ }).count(), 0);
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a wrong password says so', async () => {
  const { page } = await open(browser);
  await page.getByLabel('E-mail address').fill('nobody@example.invalid');
  await page.getByLabel(/^Password/).fill('not the password');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.getByRole('alert').waitFor();
  await page.context().close();
});
