/** Parallel paths: made, blended in within a budget, held against what feeds them, and mended; buses against a budget. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import { violations } from './axe.js';
import { act, beat, chosen, drop, freshSession, launch, row, stage, typed, until } from './browser.js';
import { drumLoop, monoWav, tone } from './wav.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

const figure = async (page: Page, id: string) =>
  Number.parseFloat((await page.getByTestId(`difference-${id}`).textContent()) ?? '');
/** Figures of the blend as it is now. */
const heard = (page: Page) => page.getByText(/^heard (just now|\d+ (s|min) ago)$/).waitFor();
const value = async (page: Page, label: string) =>
  Number(await page.getByRole('spinbutton', { name: label, exact: true }).getAttribute('aria-valuenow'));

test('a new path from kick and snare, raised to a budget: both differences are read', async () => {
  const { page, faults } = await beat(browser, 'Paths');
  await stage(page, 'Parallel');
  await chosen(page, 'Kick');
  await row(page, 'Snare').click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await act(page, 'New path from 2 chosen rows', 'compression: fast and hard');
  await page.getByRole('heading', { name: 'Press', exact: true }).waitFor();
  await page.getByText('fed by Kick, Snare at full level, before the fader').waitFor();
  await page.getByText('Off: raise the blend, and main is the same until then.').waitFor();
  await page.getByTestId('lies').getByText('in time, in polarity').waitFor();
  assert.deepEqual(await violations(page, 'Parallel'), []);

  await page.getByRole('button', { name: 'Find the blend' }).click();
  const found = await until(
    () => value(page, 'Fader of Press'),
    (db) => db > -100,
    'a blend',
  );
  await heard(page);
  const [peak, loudness] = [await figure(page, 'sample_peak_dbfs'), await figure(page, 'lufs')];
  assert.ok(peak <= 0.5 && peak >= 0.3, `as high as the budget lets it: ${peak}`);
  assert.ok(loudness > 0, `fuller: ${loudness}`);
  await page
    .getByTestId('blend-said')
    .getByText(/^Fuller by \d\.\d LU for \+0\.\d dB of peak\.$/)
    .waitFor();

  // Another level by hand: only what lies behind it is heard again.
  await typed(page, 'Fader of Press', (found + 3).toFixed(1));
  await until(
    () => figure(page, 'sample_peak_dbfs'),
    (db) => db > peak,
    'more peak at a higher blend',
  );
  await heard(page);
  // Without it, as loud; nothing of that is kept.
  await page.getByRole('button', { name: 'Without it, matched' }).click();
  await page
    .getByTestId('heard')
    .getByText(/^You hear it without Press, both as loud\./)
    .waitFor();
  await page.getByTestId('matched').waitFor();
  await page.getByRole('button', { name: 'End comparing' }).click();
  assert.equal(await page.getByTestId('heard').count(), 0);
  assert.equal(
    await page.getByRole('button', { name: 'Undo' }).getAttribute('title'),
    'Undo: Fader of Press (Ctrl Z)',
  );

  // A release that lets go of half within a quarter of a beat.
  await typed(page, 'Back within so much of a beat: sets the release of Press', '0.25');
  await page
    .getByTestId('back')
    .getByText(/within 0\.2[4-6] of a beat/)
    .waitFor();
  // The sends of both move together in the matrix.
  await chosen(page, 'Kick');
  await row(page, 'Snare').click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await typed(page, 'Send of Kick to Press', '-3');
  await until(
    () => value(page, 'Send of Snare to Press'),
    (db) => db === -3,
    'both sends softer by 3 dB',
  );
  // From the level of a send to its pan by a key, where both are typed.
  await page.keyboard.press('p');
  await page.keyboard.type('=-30');
  await page.keyboard.press('Enter');
  for (const name of ['Kick', 'Snare'])
    await until(
      () => value(page, `Pan of the send of ${name} to Press`),
      (percent) => percent === -30,
      `the send of ${name} goes left`,
    );
  await page.keyboard.press('p');
  assert.equal(
    await page.evaluate(() => document.activeElement?.getAttribute('aria-label')),
    'Send of Kick to Press',
  );
  assert.deepEqual(faults, []);
});

test('an inverted path is seen, heard mended, and mended', async () => {
  const { page, faults } = await beat(browser, 'Off');
  await stage(page, 'Parallel');
  await chosen(page, 'Snare');
  await act(page, 'New path from Snare', 'colour: saturation');
  await page.getByTestId('lies').getByText('in time, in polarity').waitFor();
  await stage(page, 'Levels');
  await page.getByRole('button', { name: 'Invert polarity of Warm' }).click();
  await stage(page, 'Parallel');
  await page.getByTestId('lies').getByText('inverted', { exact: true }).waitFor();
  await typed(page, 'Fader of Warm', '-3');
  await page
    .getByTestId('blend-said')
    .getByText(/^Thinner by /)
    .waitFor();
  await page.getByRole('button', { name: 'With the dry sound' }).click();
  await page.getByRole('img', { name: /together against the dry sound/ }).waitFor();
  await page.getByRole('button', { name: 'Hear it mended' }).click();
  await page.getByText('You hear it mended; nothing of it is kept.').waitFor();
  await page.getByRole('button', { name: 'In mono' }).click();
  await page.getByText('You hear it mended, in mono; nothing of it is kept.').waitFor();
  await page.getByRole('button', { name: 'Mend Warm' }).click();
  await page.getByTestId('lies').getByText('in time, in polarity').waitFor();
  await page
    .getByTestId('blend-said')
    .getByText(/^(Fuller by|As loud)/)
    .waitFor();
  assert.equal(await page.getByTestId('heard').count(), 0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByTestId('lies').getByText('inverted', { exact: true }).waitFor();
  assert.deepEqual(faults, []);
});

test('two mics of one sound are brought in time to the sample; what has nothing in common is left alone', async () => {
  const { page, faults } = await freshSession(browser, 'Mics');
  const hit = drumLoop(300, 1, [0], [1, 2]);
  // 16 bits behind a header of 44 bytes.
  const top = Float64Array.from(
    { length: (hit.length - 44) / 2 },
    (_, n) => hit.readInt16LE(44 + 2 * n) / 32_767,
  );
  const under = top.map((_, n) => -0.6 * (top[n - 37] ?? 0));
  await drop(page, [
    { name: 'top mic.wav', bytes: hit },
    { name: 'under mic.wav', bytes: monoWav(under, 48_000) },
    { name: 'wood.wav', bytes: tone(523, 0.3) },
  ]);
  await row(page, 'Wood').waitFor();
  await page.getByRole('tab', { name: 'Pattern' }).click();
  for (const name of ['Top mic', 'Under mic', 'Wood']) {
    await chosen(page, name);
    await page.getByRole('button', { name: 'Every beat' }).click();
  }
  await stage(page, 'Parallel');
  await chosen(page, 'Top mic');
  for (const name of ['Under mic', 'Wood'])
    await row(page, name).click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await page.getByRole('combobox', { name: 'Held against' }).selectOption({ label: 'Top mic' });
  const lies = page.getByRole('region', { name: 'How they lie' });
  await lies.getByText('37 samples late, inverted').waitFor();
  await lies.getByText(/^nothing in common: correlation 0\.\d\d$/).waitFor();
  await page.getByRole('button', { name: 'Mend all of them' }).click();
  await until(
    () => value(page, 'Offset of Under mic'),
    (frames) => frames === -37,
    'an offset',
  );
  await lies.getByText('in time, in polarity').waitFor();
  assert.deepEqual(faults, []);
});

test('a bus compressor is held against its budget, and a limiter of main is said not to be in stems', async () => {
  const { page, faults } = await beat(browser, 'Glue');
  await stage(page, 'Parallel');
  await chosen(page, 'Mix bus');
  await act(page, 'Add a bus compressor to Mix bus', 'held together, 2 dB');
  await page
    .getByTestId('budget')
    .getByText(/^takes \d/)
    .waitFor();
  await typed(page, 'Threshold of the compressor of Mix bus', '-50');
  await page
    .getByTestId('budget')
    .getByText(/over its budget$/)
    .waitFor();
  await page.getByRole('button', { name: 'Fit to the budget' }).click();
  await page
    .getByTestId('budget')
    .getByText(/^takes (1\.9|2\.0) dB at its deepest$/)
    .waitFor();
  await page.getByRole('button', { name: 'Measure over the loop' }).click();
  const stations = page.getByRole('table', { name: 'Stations of Mix bus' });
  await stations.getByRole('cell', { name: '1. Compressor' }).waitFor();
  assert.deepEqual(await violations(page, 'a bus'), []);
  await chosen(page, 'Main');
  await act(page, 'Add a station to Main', 'a whole chain: equaliser, compressor, colour, limiter');
  await page.getByText('The limiter is not in stems: Main is tracked out as it is before it.').waitFor();
  await stage(page, 'Track out');
  await page.getByText('of Main is not in the stems').waitFor();
  assert.deepEqual(faults, []);
});
