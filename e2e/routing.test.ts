/** Returns, keys, triggers, latency, ribbons that are dragged, buses that are removed, templates. */
import assert from 'node:assert/strict';
import { readFile } from 'node:fs/promises';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import {
  act,
  ADDRESS,
  beat,
  chosen,
  freshSession,
  goesTo,
  launch,
  level,
  row,
  sendTo,
  stage,
  typed,
  until,
} from './browser.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

const trace = (page: Page) => page.getByRole('region', { name: 'Trace' });
const checks = (page: Page) => page.getByRole('region', { name: 'Checks' });
const tab = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();

test('a send to a new return is a second way, explained, silenced and repaired', async () => {
  const { page, faults } = await beat(browser, 'Returns');
  await chosen(page, 'Snare');
  await tab(page, 'Sends and keys');
  await page.getByRole('button', { name: 'Send to a new return' }).click();
  await row(page, 'Return').waitFor();
  await trace(page)
    .getByText('It also goes by a send to Return, then Mix bus, then Main. Together they come 6.0 dB')
    .waitFor();
  await checks(page).getByText('Snare arrives twice').waitFor();
  await typed(page, 'Send of Snare to Return', '-6');
  await trace(page).getByText('Together they come 3.5 dB').waitFor();
  // The direct way off on purpose: only the send is left, then it is muted too.
  await sendTo(page, 'Snare', 'Nothing');
  await trace(page)
    .getByText('Snare goes by a send to Return, then Mix bus, then Main. Another way of it is stopped')
    .waitFor();
  await page.getByRole('button', { name: 'Mute the send of Snare to Return' }).click();
  await trace(page).getByText('Snare is silent: it goes to nothing.').waitFor();
  await trace(page).getByRole('button', { name: 'Send Snare to Mix bus' }).click();
  await page.getByRole('button', { name: 'Mute the send of Snare to Return' }).click();
  // As a table the same send stands in the row; its tap is changed there.
  await page.getByRole('button', { name: 'As a table' }).click();
  await row(page, 'Snare')
    .getByRole('button', { name: /post fader/ })
    .click();
  await row(page, 'Snare')
    .getByRole('button', { name: /pre fader/ })
    .waitFor();
  await page.getByRole('button', { name: 'As ribbons' }).click();
  // Levels arrive at the return.
  await page.getByRole('button', { name: 'Play' }).click();
  await until(
    () => level(page, 'Return'),
    (db) => db !== null && db > -30,
    'the return sounds',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a trigger ducks the bass without being heard; a loop of keys is refused in names', async () => {
  const { page, faults } = await beat(browser, 'Keys');
  await chosen(page, 'Kick');
  await tab(page, 'Sends and keys');
  await page.getByRole('button', { name: 'New trigger like it' }).click();
  await row(page, 'Kick trigger').waitFor();
  await chosen(page, 'Kick trigger');
  await trace(page).getByText('Kick trigger is silent on purpose: it is a trigger.').waitFor();
  await chosen(page, 'Sub bass');
  await act(page, 'Duck Sub bass by', 'Kick trigger');
  await page.getByText('Its compressor listens to Kick trigger.').waitFor();
  await row(page, 'Kick').getByRole('button', { name: 'Mute Kick', exact: true }).click();
  await page.getByRole('button', { name: 'Open', exact: true }).click();
  const reduction = page.getByRole('meter', { name: 'Reduction' });
  await page.getByRole('button', { name: 'Play' }).click();
  await until(
    async () => Number.parseFloat((await reduction.getAttribute('aria-valuetext')) ?? '0'),
    (db) => db > 6,
    'the muted kick’s trigger ducks the bass',
  );
  // Lookahead is latency, shown and waited for everywhere.
  await typed(page, 'Lookahead of the compressor of Sub bass', '5');
  await stage(page, 'Route');
  await trace(page).getByText('everything waits for the slowest way, 240 samples, 5.00 ms.').waitFor();
  await act(page, 'Duck Sub bass by', 'Mix bus');
  await page.getByText('this would be a loop: ').waitFor();
  const refused = (await page.getByRole('alert').textContent()) ?? '';
  assert.match(refused, /Sub bass to Mix bus to Sub bass \(key\)|Mix bus to Sub bass \(key\) to Mix bus/);
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a ribbon is dragged to another bus, and a bus that is removed asks where its feeders go', async () => {
  const { page, faults } = await beat(browser, 'Ribbons');
  await page.getByRole('button', { name: 'Choose all lanes' }).click();
  await page.getByLabel('Name of the new bus').fill('Drums');
  await page.getByRole('button', { name: 'Put on a new bus' }).click();
  await row(page, 'Drums').waitFor();
  const end = page.getByTestId('ribbons').locator('[data-end="Sub bass"]');
  const mix = page.getByTestId('ribbons').locator('text', { hasText: 'Mix bus' });
  const [from, to] = [await end.boundingBox(), await mix.boundingBox()];
  assert.ok(from && to);
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(to.x + 20, to.y + 5, { steps: 8 });
  await page.mouse.up();
  await until(
    () => goesTo(page, 'Sub bass'),
    (name) => name === 'Mix bus',
    'the bass was dragged to the mix bus',
  );
  await chosen(page, 'Drums');
  await page.getByRole('button', { name: 'Remove Drums …' }).click();
  const asking = page.getByRole('group', { name: 'Remove Drums' });
  await asking.getByText('3 rows go to it.').waitFor();
  await asking.getByLabel('They go on to').selectOption({ label: 'Main' });
  await asking.getByRole('button', { name: 'Remove Drums' }).click();
  await row(page, 'Drums').waitFor({ state: 'detached' });
  assert.equal(await goesTo(page, 'Kick'), 'Main');
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Drums').waitFor();
  await until(
    () => goesTo(page, 'Kick'),
    (name) => name === 'Drums',
    'undo brings the bus back whole',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('lanes fold under their families and come out again', async () => {
  const { page, faults } = await beat(browser, 'Folded');
  await page.getByRole('button', { name: 'families', exact: true }).click();
  await row(page, 'Kick').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Mute all of Low' }).click();
  await page.getByRole('button', { name: /^Low 1 lane/ }).click();
  await row(page, 'Kick').getByRole('button', { name: 'Mute Kick', exact: true, pressed: true }).waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a template is saved, begun from, exported, imported, and lanes of it are inserted', async () => {
  const { page, faults } = await beat(browser, 'Workshop');
  await chosen(page, 'Sub bass');
  await tab(page, 'Sends and keys');
  await act(page, 'Duck Sub bass by', 'Kick');
  await page.getByRole('button', { name: 'Send to a new return' }).click();
  await row(page, 'Return').waitFor();
  await page.getByRole('button', { name: 'Menu' }).click();
  await page.getByRole('menuitem', { name: 'Save as a template …' }).click();
  const saving = page.getByRole('dialog', { name: 'Save as a template' });
  await saving.getByLabel('Name').fill('Bench kit');
  await saving.getByLabel('What it is for').fill('Three lanes for a start');
  await saving.getByRole('button', { name: 'Save' }).click();
  await saving.getByText('Bench kit is kept.').waitFor();
  await saving.getByRole('button', { name: 'Close' }).click();

  // Brought up to date it keeps what it kept, and says what would be lost.
  await chosen(page, 'Clap');
  await page.keyboard.press('Delete');
  await row(page, 'Clap').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Menu' }).click();
  await page.getByRole('menuitem', { name: 'Save as a template …' }).click();
  await saving.getByLabel('Save as').selectOption({ label: 'Bench kit, brought up to date' });
  await saving.getByText('It would lose the lane Clap.').waitFor();
  await saving.getByRole('button', { name: 'Save without them' }).waitFor();
  await saving.getByRole('button', { name: 'Leave it' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Clap').waitFor();

  await page.getByRole('button', { name: 'Menu' }).click();
  await page.getByRole('menuitem', { name: 'All sessions' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export Bench kit' }).click(),
  ]);
  const bytes = await readFile(await download.path());
  await page.getByRole('button', { name: 'Remove Bench kit' }).click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'Remove', exact: true }).click();
  await page.getByRole('link', { name: 'Export Bench kit' }).waitFor({ state: 'detached' });
  await page
    .getByLabel('Template as a ZIP file')
    .setInputFiles({ name: 'kit.zip', mimeType: 'application/zip', buffer: bytes });
  await page.getByRole('button', { name: 'Start from Bench kit' }).click();
  await page.getByLabel('Title').fill('Second beat');
  await page.getByLabel('Sample rate').selectOption({ label: '44.1 kHz' });
  await page.getByRole('button', { name: 'New session' }).click();
  await row(page, 'Sub bass').waitFor();
  await stage(page, 'Route');
  await chosen(page, 'Sub bass');
  await trace(page).getByText('Sub bass is silent: it has no sound yet').waitFor();
  await tab(page, 'Sends and keys');
  await page.getByText('Its compressor listens to Kick.').waitFor();

  // Lanes of one of ours join: the mix bus is mapped, what is missing is made, a taken name gets a number.
  await tab(page, 'Route rows');
  await page.getByRole('button', { name: 'Lanes from a template …' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Parallel kit/ })
    .click();
  const inserting = page.getByRole('dialog', { name: 'Lanes from Parallel kit' });
  await inserting.getByLabel('Chords').uncheck();
  await inserting.getByRole('button', { name: 'Bring 5 lanes in' }).click();
  await row(page, 'Kick 2').waitFor();
  await row(page, 'Press').waitFor();
  assert.equal(await goesTo(page, 'Drums'), 'Mix bus');
  assert.equal(await row(page, 'Chords').count(), 0);
  await chosen(page, 'Bass');
  await tab(page, 'Sends and keys');
  await page.getByText('Its compressor listens to Kick 2.').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Press').waitFor({ state: 'detached' });
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a template of somebody else cannot be opened', async () => {
  const { page } = await freshSession(browser, 'Mine');
  const answer = await page.request.get(`${ADDRESS}/api/templates/5f0c2c3e-0000-4000-8000-000000000000`);
  assert.equal(answer.status(), 404);
  await page.context().close();
});
