/** Measuring runs: trims, sums, figures, suggestions, and meters along the rows. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser } from 'playwright-core';
import {
  addProcessor,
  ADDRESS,
  beat,
  chosen,
  launch,
  level,
  open,
  row,
  stage,
  typed,
  until,
} from './browser.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

test('trims are measured, proposed, taken over but for one, and met', async () => {
  const { page, faults } = await beat(browser, 'Trims');
  await stage(page, 'Levels');
  await typed(page, 'Target of lanes after trim', '-20');
  await page.getByRole('button', { name: 'Measure the loop' }).click();
  const trims = page.getByRole('table', { name: 'Proposed trims' });
  await trims.getByRole('checkbox', { name: 'Take over the trim of Clap' }).uncheck();
  await page.getByRole('button', { name: 'Take over 3 trims' }).click();
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

test('a run is called off and leaves everything as it was', async () => {
  const { page, faults } = await open(browser);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.getByRole('link', { name: /Copper Weather/ }).click();
  await stage(page, 'Levels');
  await page.getByRole('button', { name: 'Measure the loop' }).click();
  const progress = page.getByRole('progressbar', { name: 'Measuring the loop' });
  await until(
    async () => Number(await progress.getAttribute('aria-valuenow')),
    (percent) => percent > 0 && percent < 100,
    'it is on its way',
  );
  await page.getByRole('button', { name: 'Cancel' }).click();
  await progress.waitFor({ state: 'detached' });
  await page.getByRole('tab', { name: 'Trims' }).click();
  await page.getByText('Nothing measured yet.').waitFor();
  await page.getByRole('button', { name: 'Measure the loop' }).click();
  await page.getByRole('table', { name: 'Proposed trims' }).waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('figures are copied as CSV, every station with its true peak', async () => {
  const { page, faults } = await beat(browser, 'Copied');
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'], { origin: ADDRESS });
  await stage(page, 'Levels');
  await page.getByRole('button', { name: 'Measure the loop' }).click();
  await page.getByRole('tab', { name: 'Figures' }).click();
  await page.getByRole('button', { name: 'Copy as CSV' }).click();
  // Four lanes, the mix bus and main, at three stations each.
  await page.getByText('18 lines copied').waitFor();
  const lines = (await page.evaluate(() => navigator.clipboard.readText())).trim().split('\n');
  assert.equal(lines[0], '"Strip","Station","Peak dBFS","True peak dBTP","RMS dBFS","LUFS"');
  assert.equal(lines.length, 19);
  const kick = lines
    .find((l) => l.startsWith('"Kick","after trim"'))
    ?.split(',')
    .slice(2)
    .map(Number);
  assert.ok(kick && kick.length === 4 && kick.every(Number.isFinite), lines.join('\n'));
  const [peak = 0, truePeak = 0, rms = 0] = kick;
  assert.ok(truePeak >= peak && truePeak < peak + 0.1 && rms < peak - 3, kick.join());
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a suggestion is carried out, taken back, refused, and shown again', async () => {
  const { page, faults } = await beat(browser, 'Suggested');
  await stage(page, 'Levels');
  await page.getByRole('button', { name: 'Measure the loop' }).click();
  await page.getByRole('tab', { name: /Suggestions/ }).click();
  const list = page.getByRole('list', { name: 'Suggestions' });
  const clap = list.getByRole('listitem').filter({ hasText: 'Clap has next to nothing under' });
  await clap.getByRole('button', { name: /^High-pass at/ }).click();
  await clap.getByText('done').waitFor();
  await stage(page, 'Shape');
  await row(page, 'Clap').getByRole('button', { name: 'Equaliser of Clap' }).waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Clap').getByText('no processors').waitFor();
  await stage(page, 'Levels');
  await clap.getByRole('button', { name: 'Refuse' }).click();
  await clap.waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Show 1 refused' }).click();
  await clap.getByRole('button', { name: 'Show again' }).click();
  await clap.getByRole('button', { name: 'Refuse' }).waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a row shows where it got hot, and the light stays until it is cleared', async () => {
  const { page, faults } = await beat(browser, 'Hot');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  for (const gain of ['12', '-18']) {
    await addProcessor(page, 'Stereo image');
    await typed(page, 'Gain of the stereo image of Kick', gain);
  }
  await stage(page, 'Levels');
  await page.getByRole('button', { name: 'Play' }).click();
  const after = (place: number) =>
    row(page, 'Kick').getByRole('meter', { name: `Kick after ${place}. Stereo image` });
  const over = /over full scale since peaks were cleared/;
  await until(
    () => after(1).getAttribute('aria-valuetext'),
    (text) => over.test(text ?? ''),
    'hot after the first',
  );
  assert.doesNotMatch((await after(2).getAttribute('aria-valuetext')) ?? '', over);
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db < -6,
    'what comes out is soft again',
  );
  await page.getByRole('button', { name: 'Stop' }).click();
  assert.match((await after(1).getAttribute('aria-valuetext')) ?? '', over);
  await page.getByRole('button', { name: 'Clear peaks' }).click();
  await until(
    () => after(1).getAttribute('aria-valuetext'),
    (text) => !over.test(text ?? ''),
    'cleared',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('chosen rows keep their balance by key, drag, wheel and typing, and are made equal by name', async () => {
  const { page, faults } = await beat(browser, 'Balance');
  await stage(page, 'Levels');
  const fader = (name: string) => page.getByRole('spinbutton', { name: `Fader of ${name}`, exact: true });
  const shows = async (...db: string[]) => {
    const now = () => Promise.all(['Kick', 'Snare', 'Clap'].map((name) => fader(name).innerText()));
    await until(now, (found) => found.join() === db.join(), `faders at ${db.join(', ')}`);
  };
  await typed(page, 'Fader of Kick', '-12');
  await chosen(page, 'Clap');
  await typed(page, 'Fader of Clap', '-6');
  await shows('-12.0', '0.0', '-6.0');

  await chosen(page, 'Kick');
  for (const name of ['Snare', 'Clap'])
    await row(page, name).click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await fader('Snare').focus();
  await page.keyboard.press('ArrowUp');
  await shows('-11.5', '+0.5', '-5.5');
  await page.keyboard.press('Control+z');
  await shows('-12.0', '0.0', '-6.0');

  // As far as the first of them can go.
  const box = (await fader('Kick').boundingBox()) as { x: number; y: number };
  await page.mouse.move(box.x + 20, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 20, box.y - 200, { steps: 8 });
  await page.mouse.up();
  await shows('0.0', '+12.0', '+6.0');

  // "Everything by -10 dB" is one action, and one step back.
  await typed(page, 'Fader of Clap', '-10');
  await shows('-10.0', '+2.0', '-4.0');
  assert.equal(
    await fader('Clap').evaluate((field) => field === document.activeElement),
    true,
    'the focus stays where something was typed',
  );
  await page.keyboard.press('Control+z');
  await shows('0.0', '+12.0', '+6.0');

  await page.getByRole('button', { name: 'Make the fader of 3 rows equal to Clap' }).click();
  await shows('+6.0', '+6.0', '+6.0');
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('Space plays after a press, and presses what was reached by keyboard', async () => {
  const { page, faults } = await beat(browser, 'Keys');
  const mute = page.getByRole('button', { name: 'Mute Kick', exact: true });
  await mute.click();
  assert.equal(await mute.getAttribute('aria-pressed'), 'true');
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Stop' }).waitFor();
  assert.equal(await mute.getAttribute('aria-pressed'), 'true', 'still muted');
  await page.keyboard.press('p');
  await page.getByRole('button', { name: 'Play' }).waitFor();
  await stage(page, 'Levels');
  await page.getByRole('tab', { name: 'Sums' }).click();
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Stop' }).waitFor();
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Play' }).waitFor();
  await row(page, 'Kick').focus();
  await until(
    async () => {
      await page.keyboard.press('Tab');
      return page.evaluate(() => document.activeElement?.getAttribute('aria-label'));
    },
    (label) => label === 'Mute Kick',
    'the mute by Tab',
  );
  await page.keyboard.press('Space');
  assert.equal(await mute.getAttribute('aria-pressed'), 'false');
  await page.getByRole('button', { name: 'Play' }).waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});
