/** Snapshots: taken, held against now, single differences taken back, both heard; and what the program keeps by itself. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import { violations } from './axe.js';
import { beat, chosen, launch, row, stage, typed, until } from './browser.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

const fader = async (page: Page, name: string) =>
  Number(
    await page
      .getByRole('spinbutton', { name: `Fader of ${name}`, exact: true })
      .getAttribute('aria-valuenow'),
  );

test('a snapshot, changes, both sides heard, one difference taken back, then all of it', async () => {
  const { page, faults } = await beat(browser, 'Compare');
  await stage(page, 'Compare');
  await page.getByText('None yet.').waitFor();
  await page.getByRole('textbox', { name: 'Name of the new snapshot' }).fill('Before the changes');
  await page.getByRole('button', { name: 'Take a snapshot' }).click();
  await page.getByRole('button', { name: 'Compare with Before the changes' }).waitFor();

  await stage(page, 'Levels');
  await typed(page, 'Fader of Kick', '-6.5');
  await typed(page, 'Fader of Snare', '-3');
  await typed(page, 'Pan of Snare', '-40');
  await stage(page, 'Compare');
  await page.getByRole('button', { name: 'Compare with Before the changes' }).click();
  await page.getByTestId('count').getByText('3 differences in all').waitFor();
  await row(page, 'Kick').getByText('fader -6.5 dB').waitFor();
  await row(page, 'Clap').getByText('the same').waitFor();
  await row(page, 'Snare').getByText('fader -3.0 dB · pan 40 L').waitFor();
  assert.deepEqual(await violations(page, 'Compare'), []);

  // Both sides at one loudness, while it plays.
  await page.getByRole('button', { name: 'Play' }).first().click();
  await page.getByRole('button', { name: 'B Before the changes' }).click();
  await page.getByTestId('sides').waitFor();
  await until(
    () => page.getByRole('button', { name: 'B Before the changes' }).getAttribute('aria-pressed'),
    (pressed) => pressed === 'true',
    'the other side',
  );
  await page.getByRole('button', { name: 'A Now' }).click();

  await page.getByRole('button', { name: 'Take it: Kick, fader 0.0 dB' }).click();
  await page.getByTestId('count').getByText('2 differences in all').waitFor();
  await row(page, 'Kick').getByText('the same').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByTestId('count').getByText('3 differences in all').waitFor();
  await chosen(page, 'Snare');
  await page.getByRole('button', { name: 'Take it: pan C' }).click();
  await page.getByTestId('count').getByText('2 differences in all').waitFor();

  await page.getByRole('button', { name: 'Go back to it' }).click();
  await page.getByText('Both are the same.').waitFor();
  await page.getByRole('button', { name: 'Compare with Before going back to Before the changes' }).waitFor();
  await stage(page, 'Levels');
  assert.deepEqual([await fader(page, 'Kick'), await fader(page, 'Snare')], [0, 0]);
  assert.deepEqual(faults, []);
});

test('a render is kept with the session as it was before it', async () => {
  const { page, faults } = await beat(browser, 'Kept before');
  await stage(page, 'Track out');
  await page.getByRole('button', { name: 'Track out', exact: true }).last().click();
  await page
    .getByTestId('render-status')
    .getByText(/Render 1: done/)
    .waitFor();
  await stage(page, 'Compare');
  await page.getByRole('button', { name: 'Compare with Before render 1' }).click();
  await page.getByText('Both are the same.').waitFor();
  assert.deepEqual(faults, []);
});
