/** Snapshots: taken, held against now, single differences taken back, both heard; and what the program keeps by itself. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import { violations } from './axe.js';
import { act, beat, chosen, launch, row, stage, typed, until } from './browser.js';
import { monoWav } from './wav.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

const side = (page: Page, name: string) => page.getByRole('button', { name, exact: true });
const sideLine = (page: Page, name: string) =>
  page
    .getByTestId('sides')
    .getByRole('row')
    .filter({ has: side(page, name) });

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
  await page.getByRole('tab', { name: 'Differences' }).click();
  await page.getByTestId('count').getByText('3 differences in all').waitFor();
  await row(page, 'Kick').getByText('fader -6.5 dB').waitFor();
  await row(page, 'Clap').getByText('the same').waitFor();
  await row(page, 'Snare').getByText('fader -3.0 dB · pan 40 L').waitFor();
  assert.deepEqual(await violations(page, 'Compare'), []);

  // Both sides at one loudness, while it plays, by key and by pointer.
  await page.getByRole('button', { name: 'Play' }).first().click();
  await page
    .getByTestId('sides')
    .getByText(/^0\.0 dB$/)
    .waitFor();
  await page.keyboard.press('x');
  await page.getByText('You hear B Before the changes').waitFor();
  await side(page, 'A Now').click();
  await page.keyboard.press('Shift+Digit2');
  await page.getByText('You hear B Before the changes').waitFor();
  await page.getByRole('button', { name: 'Hear now' }).click();
  await until(
    () => side(page, 'A Now').getAttribute('aria-pressed'),
    (on) => on === 'true',
    'now again',
  );

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
  await page.getByRole('tab', { name: 'Snapshots' }).click();
  await page.getByRole('button', { name: 'Compare with Before going back to Before the changes' }).waitFor();
  await stage(page, 'Levels');
  assert.deepEqual([await fader(page, 'Kick'), await fader(page, 'Snare')], [0, 0]);
  assert.deepEqual(faults, []);
});

test('a render is kept with the session as it was before it', async () => {
  const { page, faults } = await beat(browser, 'Kept before');
  // Files end at full scale; what is over it would sound otherwise in them.
  await stage(page, 'Levels');
  await typed(page, 'Fader of Main', '-6');
  await stage(page, 'Track out');
  await page.getByRole('button', { name: 'Track out', exact: true }).last().click();
  await page
    .getByTestId('render-status')
    .getByText(/Render 1: done/)
    .waitFor();
  await stage(page, 'Compare');
  await page.getByRole('button', { name: 'Compare with Before render 1' }).click();
  await page.getByRole('tab', { name: 'Differences' }).click();
  await page.getByText('Both are the same.').waitFor();
  // What was written sounds as now does.
  await act(page, 'Another side … to hold against now', 'Render 1');
  const figures = async (name: string) =>
    (await sideLine(page, name).locator('td').allTextContents()).slice(2, 6);
  await until(
    () => figures('C Render 1'),
    (all) => all.length === 4 && all.every((text) => /^-?\d/.test(text)),
    'the render is measured',
  );
  const [now, render] = [await figures('A Now'), await figures('C Render 1')];
  for (const [n, text] of now.entries())
    assert.ok(Math.abs(Number(text) - Number(render[n])) <= 0.11, `${now.join(' ')}, ${render.join(' ')}`);
  assert.deepEqual(faults, []);
});

test('a reference against the mix: by itself and along with the song, matched, and in no stem', async () => {
  const { page, faults } = await beat(browser, 'Against a reference');
  await stage(page, 'Compare');
  const names = await page.locator('[data-row]').count();
  // A sine of 997 Hz at -20 dBFS on both sides has -20.0 LUFS.
  const sine = (_: unknown, n: number) => 0.1 * Math.sin((2 * Math.PI * 997 * n) / 44_100);
  const wav = monoWav(Float64Array.from({ length: 12 * 44_100 }, sine), 44_100);
  await page
    .getByLabel('A reference from a file')
    .setInputFiles({ name: 'Glass Pier.wav', mimeType: 'audio/wav', buffer: wav });
  const line = sideLine(page, 'B Glass Pier');
  await line.getByText('-20.0', { exact: true }).first().waitFor();
  await until(
    () =>
      page
        .getByTestId('sides')
        .getByText(/^0\.0 dB$/)
        .count(),
    (count) => count === 1,
    'the softer one stays',
  );
  await page.getByRole('button', { name: 'Play' }).first().click();
  await page.keyboard.press('x');
  await page.getByText('You hear B Glass Pier').waitFor();
  await page.getByRole('tab', { name: 'Loudness and octaves' }).click();
  await page.getByRole('img', { name: 'Power in octaves: A Now, B Glass Pier' }).waitFor();
  assert.deepEqual(await violations(page, 'Compare with pictures'), []);

  await page.getByRole('tab', { name: /References/ }).click();
  assert.deepEqual(await violations(page, 'Compare with references'), []);
  await page.getByLabel('How Glass Pier is played').selectOption('along with the song');
  await typed(page, 'Bar of the song that Glass Pier begins at', '40');
  // It begins behind the loop: nothing of it is heard in it, and nothing is matched to it.
  await line.getByText('silent').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await line.getByText('-20.0', { exact: true }).first().waitFor();
  await typed(page, 'End of what is played of Glass Pier', '3');
  await page.getByText('end').first().waitFor();

  assert.equal(await page.locator('[data-row]').count(), names, 'it is no row');
  await stage(page, 'Track out');
  assert.equal(
    await page.locator('[role=grid], [data-bench]').getByText('Glass Pier').count(),
    0,
    'it is no stem',
  );
  await stage(page, 'Compare');
  // What is heard goes on where a side before it is taken away.
  await act(page, 'Another side … to hold against now', 'Without processors');
  await page.keyboard.press('Shift+Digit3');
  await page.getByText('You hear C Without processors').waitFor();
  await page.getByRole('tab', { name: /References/ }).click();
  await page.getByRole('button', { name: 'Remove reference Glass Pier' }).click();
  await line.waitFor({ state: 'detached' });
  await page.getByText('You hear B Without processors').waitFor();
  await page.getByText('None yet. Bring one in').waitFor();
  assert.deepEqual(faults, []);
});

test('rounds without names: nothing tells a side until one is chosen', async () => {
  const { page, faults } = await beat(browser, 'Blind');
  await stage(page, 'Levels');
  await typed(page, 'Fader of Kick', '-4');
  await stage(page, 'Compare');
  await act(page, 'Another side … to hold against now', 'Without processors');
  await page.getByRole('button', { name: 'Play' }).first().click();
  await act(page, 'Compare blind … without names', 'Which is better: choose, then see which it was');
  await page.getByRole('button', { name: 'Choose 1' }).waitFor();
  for (const gone of [
    page.getByTestId('main-figures'),
    page.locator('[data-row]'),
    page.getByText('Without processors'),
  ])
    assert.equal(await gone.count(), 0);
  assert.deepEqual(await violations(page, 'A round without names'), []);
  await page.keyboard.press('2');
  await until(
    () => page.getByRole('button', { name: 'Hear 2' }).getAttribute('aria-pressed'),
    (on) => on === 'true',
    'the second one',
  );
  await page.getByRole('button', { name: 'Choose 2' }).click();
  const told = (await page.getByTestId('told').allTextContents()).toSorted();
  assert.deepEqual(told, ['Now', 'Without processors']);
  assert.match(
    (await page.getByTestId('tally').textContent()) ?? '',
    /^Now: [01] · Without processors: [01]$/,
  );
  await page.getByRole('button', { name: 'Next round' }).click();
  assert.equal(await page.getByTestId('told').count(), 0);
  await page.getByRole('button', { name: 'End it' }).click();

  await act(page, 'Compare blind … without names', 'Is X the same as A or as B');
  for (let round = 1; round <= 3; round += 1) {
    await page.getByText(`round ${round}`).waitFor();
    await page.getByRole('button', { name: 'Hear X' }).click();
    await page.getByRole('button', { name: 'X is A' }).click();
    await page
      .getByTestId('tally')
      .getByText(new RegExp(`of ${round} right`))
      .waitFor();
    await page.getByRole('button', { name: 'Next round' }).click();
  }
  await page.keyboard.press('Escape');
  await row(page, 'Kick').waitFor();
  await page.getByTestId('main-figures').waitFor();
  assert.deepEqual(faults, []);
});
