/** A beat from the first file to the stems, by click, key and drag. */
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import { drop, freshSession, goesTo, launch, level, open, row, sendTo, stage, until } from './browser.js';
import { midiFile } from './midi.js';
import { peak, readWav, tone } from './wav.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

const download = async (page: Page, click: () => Promise<void>): Promise<string> => {
  const [file] = await Promise.all([page.waitForEvent('download'), click()]);
  return file.path();
};

test('the demo opens with one click and plays after a click on Play', async () => {
  const { page, faults } = await open(browser);
  // The sound engine arrives only after the click on Play: the click counts all the same.
  let arrive = (): void => undefined;
  const clicked = new Promise<void>((resolve) => (arrive = resolve));
  await page.route('**/worklet*', async (route) => {
    await clicked;
    await route.continue();
  });
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.getByRole('link', { name: /Copper Weather/ }).click();
  await page.getByRole('button', { name: 'Play' }).click();
  arrive();
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db > -40,
    'the kick sounds',
  );
  await until(
    () => page.getByTestId('main-figures').innerText(),
    (t) => /-\d+\.\d dBTP -\d+\.\d LUFS/.test(t),
    'main is measured',
  );
  await page.getByRole('button', { name: 'Stop' }).click();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a loop is kept over a reload, and playing stays in it', async () => {
  const { page, faults } = await freshSession(browser, 'Round');
  const range = page.getByRole('slider', { name: /^Loop range/ });
  await range.focus();
  for (let n = 0; n < 3; n += 1) await page.keyboard.press('Shift+ArrowLeft');
  assert.equal(await range.getAttribute('aria-valuetext'), 'bar 1');
  await page.reload();
  await page.getByRole('button', { name: 'Play' }).click();
  let [rounds, last] = [0, 0];
  await until(
    async () => {
      const text = await page.getByLabel('Position in bars, beats, sixteenths').innerText();
      const [bar, beat] = text.split('.').map(Number) as [number, number];
      assert.equal(bar, 1, `left the loop: ${text}`);
      if (beat < last) rounds += 1;
      return ([last] = [beat]) && rounds;
    },
    (rounds) => rounds >= 2,
    'rounds of the loop',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('from dropped files to stems that add up', async () => {
  const { page, faults } = await freshSession(browser, 'Night Ferry');

  await drop(page, [
    { name: '01_kick.wav', bytes: tone(55, 0.4) },
    { name: 'snare top.wav', bytes: tone(220, 0.3, 48_000) },
    { name: 'hat/closed.wav', bytes: tone(6000, 0.1, 96_000) },
    { name: 'broken.wav', bytes: Buffer.from('RIFF and nothing else') },
  ]);
  await row(page, 'Kick').waitFor();
  await row(page, 'Snare top').waitFor();
  await page.getByText('broken.wav').waitFor();

  // Rename once, named everywhere.
  await row(page, 'Snare top').getByRole('button', { name: 'Snare top' }).first().dblclick();
  await page.keyboard.type('Snare');
  await page.keyboard.press('Enter');
  await row(page, 'Snare').waitFor();

  // Hits by click, by key, and along the lane by drag.
  const kick = row(page, 'Kick').getByRole('grid');
  const box = (await kick.boundingBox()) as {
    x: number;
    y: number;
    width: number;
    height: number;
  };
  const steps = 64;
  const at = (step: number) => box.x + ((step + 0.5) / steps) * box.width;
  for (const step of [0, 8, 16, 24]) await page.mouse.click(at(step), box.y + box.height / 2);
  const snare = row(page, 'Snare').getByRole('grid');
  await snare.focus();
  for (let n = 0; n < 4; n += 1) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  const hat = (await row(page, 'Closed').getByRole('grid').boundingBox()) as typeof box;
  await page.mouse.move(at(0), hat.y + hat.height / 2);
  await page.mouse.down();
  for (let step = 1; step < 6; step += 1) await page.mouse.move(at(step), hat.y + hat.height / 2);
  await page.mouse.up();
  // Patterns of 2 bars repeat in the loop of 4, so each hit is seen twice.
  await until(
    () => row(page, 'Kick').locator('[data-hit]').count(),
    (n) => n === 8,
    'kick hits',
  );
  await until(
    () => row(page, 'Snare').locator('[data-hit]').count(),
    (n) => n === 2,
    'snare hits',
  );
  await until(
    () => row(page, 'Closed').locator('[data-hit]').count(),
    (n) => n === 12,
    'hat hits',
  );

  // Level follows the fader while it plays.
  await page.getByRole('button', { name: 'Play' }).click();
  await stage(page, 'Levels');
  const loud = await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db > -20,
    'the kick plays',
  );
  const fader = row(page, 'Kick').getByRole('spinbutton', {
    name: 'Fader of Kick',
  });
  await fader.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('-24');
  await page.keyboard.press('Enter');
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && Math.abs(db - (loud as number) + 24) < 1,
    'the meter follows the fader',
  );
  await until(
    () => level(page, 'Kick', 'source'),
    (db) => db !== null && db > -20,
    'the source stays',
  );
  const spot = (await fader.boundingBox()) as typeof box;
  await page.mouse.move(spot.x + 20, spot.y + 8);
  await page.mouse.down();
  await page.mouse.move(spot.x + 20, spot.y - 72, { steps: 8 });
  await page.mouse.up();
  await until(
    () => fader.getAttribute('aria-valuenow'),
    (v) => Number(v) === -14,
    'the fader was dragged',
  );

  // Mute is heard and seen, and undone.
  await row(page, 'Kick').getByRole('button', { name: 'Mute Kick' }).click();
  await until(
    () => level(page, 'Kick'),
    (db) => db === null || db < -50,
    'the kick is muted',
  );
  await page.getByRole('button', { name: 'Undo' }).click();
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db > -40,
    'the kick is back',
  );

  // Two channels on a new bus in one action; undone and done again.
  await stage(page, 'Route');
  await row(page, 'Kick').click({ position: { x: 60, y: 3 } });
  await row(page, 'Snare').click({
    position: { x: 60, y: 3 },
    modifiers: ['Control'],
  });
  await page.getByLabel('Name of the new bus').fill('Drums');
  await page.getByRole('button', { name: 'Put on a new bus' }).click();
  await until(
    () => goesTo(page, 'Kick'),
    (to) => to === 'Drums',
    'the kick goes to the bus',
  );
  await page.keyboard.press('Escape');
  await page.locator('main').click({ position: { x: 400, y: 10 } });
  await page.keyboard.press('Control+z');
  await until(
    () => goesTo(page, 'Kick'),
    (to) => to === 'Mix bus',
    'undone',
  );
  await page.keyboard.press('Control+Shift+z');
  await until(
    () => goesTo(page, 'Snare'),
    (to) => to === 'Drums',
    'done again',
  );
  // A loop is refused by name.
  await sendTo(page, 'Mix bus', 'Drums');
  await page
    .getByRole('alert')
    .getByText(/(Drums to Mix bus|Mix bus to Drums) to (Drums|Mix bus)/)
    .waitFor();
  await page.getByRole('button', { name: 'Close', exact: true }).click();

  // What was done is there after a reload.
  await page.reload();
  await until(
    () => goesTo(page, 'Kick'),
    (to) => to === 'Drums',
    'kept',
  );

  await stage(page, 'Track out');
  await page.getByLabel('Track out Drums').check();
  await page.getByLabel('Format').selectOption({ label: '32-bit float WAV' });
  await page.getByLabel('Label pattern').fill('{number}_{voice}_{tap}_{version}');
  await page.keyboard.press('Enter');
  await row(page, 'Kick').getByText('01_Kick_channel_v1.wav').waitFor();
  await page.getByRole('button', { name: 'Track out', exact: true }).last().click();
  await page.getByTestId('render-status').getByText('done').waitFor();
  const figure = Number.parseFloat(await page.getByTestId('sum-figure').innerText());
  assert.ok(figure <= -120, `the page says ${figure} dBFS`);

  const folder = mkdtempSync(join(tmpdir(), 'stems-'));
  try {
    const zip = await download(page, () => page.getByRole('link', { name: /^Download render 1/ }).click());
    execFileSync('unzip', ['-q', zip, '-d', folder]);
    const names = readdirSync(folder).sort();
    assert.deepEqual(names, [
      '01_Kick_channel_v1.wav',
      '02_Closed_channel_v1.wav',
      '03_Snare_channel_v1.wav',
      '04_Drums_channel_v1.wav',
      '05_Main_channel_v1.wav',
      'SHA256SUMS',
      'session-sheet.md',
    ]);
    execFileSync('sha256sum', ['-c', '--strict', '--quiet', 'SHA256SUMS'], {
      cwd: folder,
    });
    const stems = names.filter((n) => n.endsWith('.wav')).map((n) => readWav(readFileSync(join(folder, n))));
    const [first, third, second, drums, main] = stems.map((s) => s.samples) as Float64Array[];
    assert.ok(stems.every((s) => s.rate === 48_000 && s.channels === 2 && s.bits === 32));
    assert.ok(stems.every((s) => s.samples.length === stems[0]?.samples.length));
    assert.ok(peak(first as Float64Array) > 0.05 && peak(third as Float64Array) > 0.05);
    let residue = 0;
    let bus = 0;
    for (let n = 0; n < (main as Float64Array).length; n += 1) {
      const [a, b, c] = [first?.[n] ?? NaN, second?.[n] ?? NaN, third?.[n] ?? NaN];
      residue = Math.max(residue, Math.abs(a + b + c - (main?.[n] ?? NaN)));
      bus = Math.max(bus, Math.abs(a + b - (drums?.[n] ?? NaN)));
    }
    assert.ok(20 * Math.log10(residue) <= -120, `the sum is off by ${residue}`);
    assert.ok(20 * Math.log10(bus) <= -120, `the bus is off by ${bus}`);
    const sheet = readFileSync(join(folder, 'session-sheet.md'), 'utf8');
    assert.match(sheet, /# Night Ferry/);
    assert.match(sheet, /01_Kick_channel_v1\.wav/);
  } finally {
    rmSync(folder, { recursive: true });
  }
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a MIDI take plays at once and another tab follows', async () => {
  const { page, faults } = await freshSession(browser, 'Take');
  const kit = [36, 38, 42].map((key, n) => ({ at: 96 * n, key, channel: 10 }));
  await drop(page, [{ name: 'take.mid', bytes: midiFile(kit) }]);
  await row(page, 'Hat closed').waitFor();
  await page.getByRole('button', { name: 'Play' }).click();
  await until(
    () => level(page, 'Snare'),
    (db) => db !== null && db > -30,
    'the snare of the take sounds',
  );

  const other = await page.context().newPage();
  await other.goto(page.url());
  await row(other, 'Snare').getByRole('button', { name: 'Mute Snare' }).click();
  const pressed = row(page, 'Snare').getByRole('button', {
    name: 'Mute Snare',
  });
  await until(
    () => pressed.getAttribute('aria-pressed'),
    (p) => p === 'true',
    'the first tab follows',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});
