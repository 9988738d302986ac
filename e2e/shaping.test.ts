/** Chains, their pictures, comparing without them, presets. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser } from 'playwright-core';
import { act, addProcessor, beat, chosen, launch, level, row, stage, typed, until } from './browser.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

test('a kick gets more attack and less ring, and its picture shows it', async () => {
  const { page, faults } = await beat(browser, 'Attack');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  await addProcessor(page, 'Transient shaper');
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
  await addProcessor(page, 'Stereo image');
  await typed(page, 'Gain of the stereo image of Kick', '-9');
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
  await page.getByRole('button', { name: 'Keep this stereo image' }).click();
  await page.getByRole('button', { name: 'Use Nine less' }).waitFor();
  await page.getByRole('button', { name: 'Use Kick, short and up front' }).click();
  await row(page, 'Kick').getByRole('button', { name: 'Clipper of Kick' }).waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a chain is built, put in another order, switched, and copied to other lanes', async () => {
  const { page, faults } = await beat(browser, 'Shapes');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  const chain = page.getByRole('list', { name: 'Chain of Kick' });
  for (const kind of ['Transient shaper', 'Clipper']) await addProcessor(page, kind);
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
  await page.getByRole('button', { name: /^Copy from .* to 3 rows$/ }).click();
  await page.getByRole('menuitem', { name: 'The chain, behind what they have' }).click();
  for (const name of ['Snare', 'Clap', 'Sub bass'])
    await row(page, name)
      .getByRole('button', { name: `Transient shaper of ${name}` })
      .waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a processor becomes another kind, its loudness is taken over, and nothing gets louder meanwhile', async () => {
  const { page, faults } = await beat(browser, 'Kinds');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  await addProcessor(page, 'Compressor');
  await typed(page, 'Threshold of the compressor of Kick', '-33');
  await typed(page, 'Output gain of the compressor of Kick', '6');
  await act(page, 'Another kind instead of Compressor', 'Gate');
  const threshold = page.getByRole('spinbutton', { name: 'Threshold of the gate of Kick' });
  assert.equal(await threshold.getAttribute('aria-valuenow'), '-33');
  assert.equal(
    await page
      .getByRole('spinbutton', { name: 'Output gain of the gate of Kick' })
      .getAttribute('aria-valuenow'),
    '6',
  );
  await act(page, 'Another kind instead of Gate', 'Stereo image');
  // A mono sound has no width, and the field says so.
  const width = page.getByRole('spinbutton', { name: 'Width of the stereo image of Kick' });
  assert.match((await width.getAttribute('aria-valuetext')) ?? '', /width does nothing/);
  await page.getByRole('button', { name: 'Play' }).click();
  const loud = await until(
    () => level(page, 'Kick'),
    (db) => db !== null && db > -5,
    'it is 6 dB up',
  );
  // Without comes up by 6 dB, so main goes down by as much for both.
  const without = page.getByRole('button', { name: 'Without it' });
  const heard = page.getByTestId('heard');
  await without.click();
  await heard
    .getByText('You hear it without the stereo image of Kick, both as loud. All of it 6.0 dB softer.')
    .waitFor();
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && Math.abs(db - (loud ?? 0)) < 0.6,
    'as loud without',
  );
  await without.click();
  await heard.getByText('You hear it with the stereo image').waitFor();
  await stage(page, 'Levels');
  await heard.getByRole('button', { name: 'End comparing' }).click();
  await heard.waitFor({ state: 'detached' });
  await stage(page, 'Shape');
  await without.click();
  await page.getByRole('button', { name: 'take it over' }).click();
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && Math.abs(db - ((loud ?? 0) - 6)) < 0.6,
    'as loud with as without',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('an equaliser’s bands are added, dragged and typed, and take the lows away', async () => {
  const { page, faults } = await beat(browser, 'Bands');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  await addProcessor(page, 'Equaliser');
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

test('a band is set by keys, heard alone while held, and shown over another lane', async () => {
  const { page, faults } = await beat(browser, 'Keys on bands');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  await addProcessor(page, 'Equaliser');
  await page.getByRole('button', { name: 'Add a band' }).click();
  const handle = page.locator('[data-band="1"]');
  await handle.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await until(
    () => handle.getAttribute('aria-valuetext'),
    (text) => text === '1.0 kHz, -0.5 dB',
    'a half dB lower and a little higher',
  );
  assert.equal(await handle.getAttribute('aria-valuenow'), '1030');
  await page.getByRole('button', { name: 'Play' }).click();
  const kick = () => level(page, 'Kick');
  await until(kick, (db) => db !== null && db > -12, 'the kick sounds');
  await page.getByRole('button', { name: 'Hear band 1 alone while held' }).hover();
  await page.mouse.down();
  await until(kick, (db) => db === null || db < -30, 'nothing of a tone of 55 Hz lies around 1 kHz');
  await page.mouse.up();
  await until(kick, (db) => db !== null && db > -12, 'let go, it is whole again');
  await page.getByRole('button', { name: 'Without it' }).click();
  await page.getByTestId('offset-processor').waitFor();
  const behind = page
    .getByRole('group', { name: 'Curve of the equaliser of Kick' })
    .getByTestId('other-lane');
  assert.equal(await behind.count(), 0);
  await page.getByLabel('Another lane’s spectrum behind it').selectOption({ label: 'Snare' });
  await behind.waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('processors are doubled, dragged along their row, and dragged to another to be copied', async () => {
  const { page, faults } = await beat(browser, 'Dragged');
  await stage(page, 'Shape');
  await chosen(page, 'Kick');
  await addProcessor(page, 'Stereo image');
  await typed(page, 'Gain of the stereo image of Kick', '-3');
  await page.getByRole('button', { name: 'Double it' }).click();
  await addProcessor(page, 'Gate');
  const chain = (name: string) => page.getByRole('group', { name: `Chain of ${name}` }).getByRole('button');
  const names = (name: string) => async () =>
    (await chain(name).allTextContents()).map((text) => text.trim()).join();
  await until(names('Kick'), (n) => n === 'Stereo image,Stereo image,Gate', 'three in a row');
  assert.equal(
    await page
      .getByRole('spinbutton', { name: 'Threshold of the gate of Kick' })
      .getAttribute('aria-valuenow'),
    '-36',
  );
  await chain('Kick').nth(2).dragTo(chain('Kick').nth(0));
  await until(names('Kick'), (n) => n === 'Gate,Stereo image,Stereo image', 'the gate comes first');
  await chain('Kick')
    .nth(1)
    .dragTo(page.getByRole('group', { name: 'Chain of Clap' }));
  await until(names('Clap'), (n) => n === 'Stereo image', 'the clap has one as well');
  await row(page, 'Clap').click({ position: { x: 60, y: 10 } });
  assert.equal(
    await page
      .getByRole('spinbutton', { name: 'Gain of the stereo image of Clap', exact: true })
      .getAttribute('aria-valuenow'),
    '-3',
    'set as it was',
  );
  await page.getByRole('button', { name: 'Undo' }).click();
  await until(names('Clap'), (n) => n === '', 'taken back');
  // One processor alone, to rows that are chosen together.
  await chosen(page, 'Snare');
  for (const name of ['Sub bass', 'Kick'])
    await row(page, name).click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await page.getByRole('list', { name: 'Chain of Kick' }).getByRole('button', { name: '1. Gate' }).click();
  await page.getByRole('button', { name: 'Copy from Kick to Snare and Sub bass' }).click();
  await page.getByRole('menuitem', { name: 'The gate alone, behind what they have' }).click();
  for (const name of ['Snare', 'Sub bass']) await until(names(name), (n) => n === 'Gate', `${name} has it`);
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('without a chain, and without any processor, it is as loud as with them', async () => {
  const { page, faults } = await beat(browser, 'Whole');
  await stage(page, 'Shape');
  await chosen(page, 'Snare');
  for (const gain of ['-4', '-2']) {
    await addProcessor(page, 'Stereo image');
    await typed(page, 'Gain of the stereo image of Snare', gain);
  }
  await page.getByRole('button', { name: 'Play' }).click();
  const snare = await until(
    () => level(page, 'Snare'),
    (db) => db !== null && db < -6,
    'it is 6 dB down',
  );
  const without = (name: string) => page.getByRole('button', { name, exact: true });
  await without('Without the chain').click();
  await until(
    () => page.getByTestId('offset-chain').textContent(),
    (text) => text === '-6.0 dB to match',
    'the offset of the whole chain',
  );
  const as = (wanted: number) => (db: number | null) => db !== null && Math.abs(db - wanted) < 0.6;
  await until(() => level(page, 'Snare'), as(snare ?? 0), 'as loud without');
  await typed(page, 'Gain of the stereo image of Snare', '-8');
  await page.getByText('changed since; press to measure again').waitFor();
  await without('Without the chain').click();
  await until(
    () => page.getByTestId('offset-chain').textContent(),
    (text) => text === '-12.0 dB to match',
    'measured again',
  );
  await without('Without the chain').click();
  await without('End comparing').click();
  // Without any processor is a side of its own, in every stage; meters go on showing now.
  await page.getByTestId('side').click();
  await page.getByText(/You hear B Without processors, \d\.\d dB softer to match/).waitFor();
  await until(
    () => level(page, 'Snare'),
    (db) => db !== null && db < -14,
    'meters show now',
  );
  await page.getByTestId('side').click();
  await page.getByRole('button', { name: 'A Now is heard; next B Without processors' }).waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a delay shows its echoes by tempo, a filter its curve, a reverb its decay', async () => {
  const { page, faults } = await beat(browser, 'Pictures');
  await stage(page, 'Shape');
  await chosen(page, 'Clap');
  await addProcessor(page, 'Delay');
  const echoes = page.getByRole('img', { name: /^Echoes of the delay of Clap/ });
  // 96 bpm: an eighth takes 312.5 ms; at 30 % echoes fall by 60 dB in six.
  assert.match((await echoes.getAttribute('aria-label')) ?? '', /: 6, the first after 312\.5 ms$/);
  await page.getByLabel('Counted in').selectOption({ label: '1/4 triplet' });
  await until(
    () => echoes.getAttribute('aria-label'),
    (text) => /after 416\.7 ms$/.test(text ?? ''),
    'two thirds of a beat',
  );
  await addProcessor(page, 'Envelope filter');
  const curve = page.getByRole('img', {
    name: 'Curve of the envelope filter of Clap at rest and at full level',
  });
  const lines = () =>
    curve.locator('path').evaluateAll((all) => all.map((p) => p.getAttribute('d')).slice(-2));
  const [full, rest] = await lines();
  assert.equal(full, rest, 'it does not move yet');
  await typed(page, 'Envelope of the envelope filter of Clap', '3');
  await until(lines, ([full, rest]) => full !== rest, 'it opens with the level');
  await addProcessor(page, 'Reverb');
  await page.getByRole('img', { name: 'Decay of the reverb of Clap in seconds over frequency' }).waitFor();
  for (const kind of ['Limiter', 'Enhancer', 'Bit and rate reduction', 'Gate'])
    await addProcessor(page, kind);
  assert.equal(await page.getByRole('group', { name: 'Chain of Clap' }).getByRole('button').count(), 7);
  assert.deepEqual(faults, []);
  await page.context().close();
});
