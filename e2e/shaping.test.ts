/** Chains, their pictures, comparing without them, presets, measured levels and trims. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser } from 'playwright-core';
import { beat, chosen, launch, level, row, stage, typed, until } from './browser.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

test('a kick gets more attack and less ring, and its picture shows it', async () => {
  const { page, faults } = await beat(browser, 'Attack');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  await page.getByLabel('Add a processor').selectOption({ label: 'Transient shaper' });
  await page.getByRole('button', { name: 'Play' }).click();
  const hit = page.getByTestId('hit');
  const gained = async () =>
    Number(await hit.getAttribute('data-behind')) - Number((await hit.getAttribute('data-before')) || 'NaN');
  await until(gained, (db) => Math.abs(db) < 0.01, 'at rest it is as it came');
  await typed(page, 'Attack of the transient shaper of Kick', '9');
  await typed(page, 'Sustain of the transient shaper of Kick', '-18');
  await until(gained, (db) => db > 1, 'the beginning stands out');
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('without a processor it is as loud as with, and the offset is shown', async () => {
  const { page, faults } = await beat(browser, 'Fair');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  await page.getByLabel('Add a processor').selectOption({ label: 'Utility' });
  await typed(page, 'Gain of the utility of Kick', '-9');
  await page.getByRole('button', { name: 'Play' }).click();
  const near = (wanted: number) => (db: number | null) => db !== null && Math.abs(db - wanted) < 0.6;
  const quiet = await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db < -9,
    'the gain is down',
  );
  await page.getByRole('button', { name: 'Without it' }).click();
  await until(
    () => page.getByTestId('offset-processor').textContent(),
    (text) => text === '-9.0 dB to match',
    'what makes it fair',
  );
  await until(() => level(page, 'Kick'), near(quiet ?? 0), 'as loud without');
  await page.getByRole('button', { name: 'Without it' }).click();
  // A preset of ours instead of the chain, and one of one's own.
  await page.getByRole('button', { name: 'Presets …' }).click();
  await page.getByLabel('Name of a new preset').fill('Nine less');
  await page.getByRole('button', { name: 'Keep this utility' }).click();
  await page.getByRole('button', { name: 'Use Nine less' }).waitFor();
  await page.getByRole('button', { name: 'Use Kick, short and up front' }).click();
  await row(page, 'Kick').getByRole('button', { name: 'Clipper of Kick' }).waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('trims are measured, proposed, taken over but for one, and met', async () => {
  const { page, faults } = await beat(browser, 'Trims');
  await stage(page, 'Levels');
  await typed(page, 'Target of lanes after trim', '-20');
  await page.getByRole('button', { name: 'Measure the loop' }).click();
  const trims = page.getByRole('table', { name: 'Proposed trims' });
  await trims.getByRole('checkbox', { name: 'Take over the trim of Clap' }).uncheck();
  await page.getByRole('button', { name: 'Take over 3 trims' }).click();
  await page.getByRole('button', { name: 'Measure again' }).click();
  await page.getByRole('button', { name: 'Take over 1 trim' }).waitFor();
  await page.getByRole('button', { name: 'Play' }).click();
  await until(
    () => level(page, 'Snare', 'trimmed'),
    (db) => db !== null && Math.abs(db + 20) < 0.3,
    'the snare plays at its target',
  );
  await page.getByRole('tab', { name: 'Figures' }).click();
  const table = page.getByRole('table', { name: 'Figures' });
  await table.getByRole('button', { name: 'Peak dBFS', exact: true }).click();
  await until(
    () => table.getByRole('row').nth(1).textContent(),
    (text) => text !== null && /Main|Mix bus|Clap|Kick|Sub bass|Snare/.test(text),
    'sorted from the loudest',
  );
  await page.getByRole('tab', { name: 'Sums' }).click();
  await page.getByRole('table', { name: 'Sums' }).getByText('Mix bus').waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a chain is built, put in another order, switched, and copied to other lanes', async () => {
  const { page, faults } = await beat(browser, 'Shapes');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  const chain = page.getByRole('list', { name: 'Chain of Kick' });
  for (const kind of ['Transient shaper', 'Clipper'])
    await page.getByLabel('Add a processor').selectOption({ label: kind });
  const names = async () => (await chain.getByRole('button').allTextContents()).filter((n) => /^\d/.test(n));
  await until(names, (n) => n.join() === '1. Transient shaper,2. Clipper', 'both stand in the chain');
  await chain.getByRole('button', { name: '2. Clipper' }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await until(names, (n) => n.join() === '1. Clipper,2. Transient shaper', 'the clipper comes first');
  await page.getByRole('button', { name: 'Compare orders' }).click();
  await until(names, (n) => n.join() === '1. Transient shaper,2. Clipper', 'the order before, in one click');
  await page.getByRole('button', { name: 'Compare orders' }).click();
  await until(names, (n) => n.join() === '1. Clipper,2. Transient shaper', 'and back');
  await chain.getByRole('button', { name: '1. Clipper' }).click();
  await typed(page, 'Ceiling of the clipper of Kick', '-20');
  await page.getByRole('button', { name: 'Play' }).click();
  // The tone has its peak at about -3 dBFS, and the fader stands at 0 dB.
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db > -22 && db < -18.5,
    'the clipper holds the kick',
  );
  await chain.getByRole('checkbox', { name: 'Clipper 1 on' }).uncheck();
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db > -12,
    'switched off it passes everything',
  );
  await row(page, 'Snare').click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  for (const name of ['Clap', 'Sub bass'])
    await row(page, name).click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await row(page, 'Kick').click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await row(page, 'Kick').click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Copy chain to 3 rows' }).click();
  for (const name of ['Snare', 'Clap', 'Sub bass'])
    await row(page, name)
      .getByRole('button', { name: `Transient shaper of ${name}` })
      .waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('an equaliser’s bands are added, dragged and typed, and take the lows away', async () => {
  const { page, faults } = await beat(browser, 'Bands');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  await page.getByLabel('Add a processor').selectOption({ label: 'Equaliser' });
  await page.getByRole('button', { name: 'Add a band' }).click();
  const band = page
    .getByRole('list', { name: 'Bands of the equaliser of Kick' })
    .getByRole('listitem')
    .first();
  const handle = page.locator('[data-band="1"]');
  const from = await handle.boundingBox();
  assert.ok(from);
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(from.x - 60, from.y + 30, { steps: 6 });
  await page.mouse.up();
  const gain = band.getByRole('spinbutton', { name: 'Gain of band 1' });
  await until(
    async () => Number(await gain.getAttribute('aria-valuenow')),
    (db) => db < -2,
    'the handle was dragged down',
  );
  await band.getByLabel('Shape of band 1').selectOption({ label: 'High-pass' });
  await band.getByLabel('Slope of band 1').selectOption({ label: '24 dB/oct' });
  await typed(page, 'Frequency of band 1', '440');
  // The kick is a tone of 55 Hz: three octaves under the corner; only its edges are left.
  await page.getByRole('button', { name: 'Play' }).click();
  await until(
    () => level(page, 'Kick'),
    (db) => db === null || db < -30,
    'the lows are gone',
  );
  await band.getByRole('checkbox', { name: 'Band 1 heard' }).uncheck();
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db > -12,
    'switched off it passes everything',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});
