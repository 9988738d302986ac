/** One sound makes room for another: seen, measured, set by how deep it shall go. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import { violations } from './axe.js';
import { act, beat, chosen, drop, freshSession, launch, row, stage, typed, until } from './browser.js';
import { drumLoop, tone } from './wav.js';

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

  // Another kind in its place keeps the key and the depth, and back it is as it was.
  await cell(page, 'Kick', 'Sub bass').click();
  const kind = page.getByLabel('Kind of the ducker');
  const release = 'Release of the compressor of Sub bass';
  const was = await value(page, release);
  await kind.selectOption({ label: 'One band' });
  await page.getByText('Moves by').first().waitFor();
  await page.getByRole('heading', { name: 'Kick ducks Sub bass' }).waitFor();
  await deep(page, 'Kick', 'Sub bass', 6);
  await kind.selectOption({ label: 'The whole sound' });
  await until(
    () => value(page, release),
    (now) => now === was,
    'the release that it had',
  );
  await deep(page, 'Kick', 'Sub bass', 6);

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

test('a shape is drawn on the beat and by a key; room is proposed, heard, and taken over', async () => {
  const { page, faults } = await beat(browser, 'Shapes');
  await stage(page, 'Duck');
  await act(page, 'Add a key to duck by', 'the beat: a shape');
  await page.getByRole('button', { name: 'Duck Sub bass by The beat' }).click();
  await page.getByRole('heading', { name: 'The beat ducks Sub bass' }).waitFor();
  await deep(page, 'The beat', 'Sub bass', 9);
  await page.getByRole('button', { name: 'two steps' }).click();
  const points = page.getByRole('slider', { name: /^Point \d of the shape on Sub bass$/ });
  await until(
    () => points.count(),
    (n) => n === 5,
    'five points',
  );
  // The first point is dragged to half the depth, by pointer; one more comes by a double click, and goes by a key.
  const ground = await page.getByTestId('shape-ground').boundingBox();
  assert.ok(ground);
  const first = await points.first().boundingBox();
  assert.ok(first);
  await page.mouse.move(first.x + first.width / 2, first.y + first.height / 2);
  await page.mouse.down();
  await page.mouse.move(ground.x + 3, ground.y + ground.height / 2, { steps: 4 });
  await page.mouse.up();
  await until(
    () => points.first().getAttribute('aria-valuetext'),
    (text) => /, 4\.[4-6] dB down$/.test(text ?? ''),
    'half as deep',
  );
  await page.mouse.dblclick(ground.x + 0.8 * ground.width, ground.y + 0.3 * ground.height);
  await until(
    () => points.count(),
    (n) => n === 6,
    'one point more',
  );
  await points.last().press('Delete');
  await until(
    () => points.count(),
    (n) => n === 5,
    'one less',
  );
  await typed(page, 'Depth of The beat on Sub bass', '12');
  await deep(page, 'The beat', 'Sub bass', 12);
  assert.deepEqual(await violations(page, 'a shape'), []);

  // By a key it begins with every hit of that.
  await page.getByLabel('Key', { exact: true }).selectOption({ label: 'Kick' });
  await page.getByRole('heading', { name: 'Kick ducks Sub bass' }).waitFor();
  await deep(page, 'Kick', 'Sub bass', 12);
  for (let n = 0; n < 7; n += 1) await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByText('Nothing is ducked yet.').waitFor();

  // What two rows share, and what would take it away: a bass 9 dB under the kick.
  await stage(page, 'Levels');
  await typed(page, 'Fader of Sub bass', '-9');
  await stage(page, 'Duck');
  await chosen(page, 'Sub bass');
  await page.getByRole('button', { name: 'Make room …' }).click();
  await page.getByRole('button', { name: 'Look for a way' }).click();
  await page.getByTestId('room-shared').waitFor();
  const proposal = page.getByTestId('room-proposal');
  await proposal.waitFor();
  const [before, behind] = ((await proposal.innerText()).match(/(\d+) to (\d+) %/) ?? [])
    .slice(1)
    .map(Number);
  assert.ok((behind ?? 100) < (before ?? 0), `${before} to ${behind} %`);
  const hear = page.getByRole('button', { name: 'Hear it' });
  await hear.click();
  await cell(page, 'Kick', 'Sub bass').waitFor();
  await hear.click();
  await cell(page, 'Kick', 'Sub bass').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Take it over' }).click();
  await page.getByRole('heading', { name: 'Kick ducks Sub bass' }).waitFor();
  // Heard again it is what was said.
  const pair = page.getByTestId('pair');
  await until(
    async () => Number(/overlap \d+ to (\d+) %/.exec(await pair.innerText().catch(() => ''))?.[1] ?? -1),
    (now) => Math.abs(now - (behind ?? 0)) <= Math.max(2, 0.2 * (behind ?? 0)),
    `an overlap of ${behind} %`,
  );

  // The least depth that keeps both together at the level of the key, told with what it was.
  await page.getByRole('button', { name: 'Keep the sum’s level' }).click();
  await page
    .getByText(/^(Both together: |.* over the key alone is as near|Both together are no louder)/)
    .waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

/** Every so many steps up to an end. */
const every = (step: number, end: number) => Array.from({ length: end / step }, (_, n) => n * step);

test('a finished loop ducks a bass by its hits; two keys, a copy by keys and one drawn out, the worst first', async () => {
  const { page, faults } = await freshSession(browser, 'Loop');
  await drop(page, [
    // Long enough to be a recording; it hits every half second.
    { name: 'break loop.wav', bytes: drumLoop(120, 6, every(4, 96), []) },
    { name: 'pad.wav', bytes: tone(300, 1.8) },
    { name: 'sub bass.wav', bytes: tone(50, 0.6) },
    { name: 'kick.wav', bytes: tone(55, 0.3) },
  ]);
  await row(page, 'Sub bass').waitFor();
  await page.getByRole('tab', { name: 'Pattern' }).click();
  for (const name of ['Pad', 'Sub bass', 'Kick']) {
    await chosen(page, name);
    await page.getByRole('button', { name: 'Every beat' }).click();
  }
  await stage(page, 'Duck');
  await chosen(page, 'Break loop');
  await act(page, 'Add a key to duck by', 'a trigger where Break loop hits');
  await row(page, 'Break loop trigger').getByText('never heard; feeds keys').waitFor();
  await page.getByRole('button', { name: 'Duck Sub bass by Break loop trigger' }).click();
  await deep(page, 'Break loop trigger', 'Sub bass', 6);

  // The trigger is set where it is used: later, and softer by as much as the bass is ducked less.
  await typed(page, 'How much later Break loop trigger hits, earlier below 0', '-10');
  await typed(page, 'Level of Break loop trigger for keys', '-30');
  await until(
    () => depth(page, 'Break loop trigger', 'Sub bass'),
    (db) => db > -3,
    'next to nothing',
  );
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await deep(page, 'Break loop trigger', 'Sub bass', 6);

  // A second key for the same ducker.
  await page.getByLabel('and', { exact: true }).selectOption({ label: 'Kick' });
  await page
    .getByRole('heading', { name: 'Kick and Break loop trigger duck Sub bass' })
    .or(page.getByRole('heading', { name: 'Break loop trigger and Kick duck Sub bass' }))
    .waitFor();
  await cell(page, 'Kick', 'Sub bass').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await cell(page, 'Kick', 'Sub bass').waitFor({ state: 'detached' });

  // A filter that moves is counted in octaves.
  await page.getByLabel('Kind of the ducker').selectOption({ label: 'A filter that moves' });
  await cell(page, 'Break loop trigger', 'Sub bass')
    .getByText(/^3\.\d oct$/)
    .or(cell(page, 'Break loop trigger', 'Sub bass').getByText(/^2\.9 oct$/))
    .waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await deep(page, 'Break loop trigger', 'Sub bass', 6);

  // Copied by keys, taken back, and drawn out over the row by hand.
  await cell(page, 'Break loop trigger', 'Sub bass').focus();
  await page.keyboard.press('Control+c');
  await page.getByRole('button', { name: 'Duck Pad by Break loop trigger' }).focus();
  await page.keyboard.press('Control+v');
  await cell(page, 'Break loop trigger', 'Pad').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await cell(page, 'Break loop trigger', 'Pad').waitFor({ state: 'detached' });
  await cell(page, 'Break loop trigger', 'Sub bass').click();
  const handle = await page.getByTestId('draw-out').boundingBox();
  const onto = await row(page, 'Pad').boundingBox();
  assert.ok(handle && onto);
  await page.mouse.move(handle.x + 3, handle.y + 3);
  await page.mouse.down();
  await page.mouse.move(handle.x + 3, onto.y + onto.height / 2, { steps: 5 });
  await page.mouse.up();
  await cell(page, 'Break loop trigger', 'Pad').waitFor();

  // The pad is made to come back late: it stands first then.
  await cell(page, 'Break loop trigger', 'Pad').click();
  await typed(page, 'Release of the compressor of Pad', '2000');
  await row(page, 'Pad')
    .getByText(/late by|never back/)
    .waitFor();
  await page.getByRole('button', { name: 'Against the next hit' }).click();
  const first = page.locator('[data-duck-row]').first();
  await until(
    () => first.getByRole('button', { name: / ducks Pad: / }).count(),
    (n) => n > 0,
    'the worst first',
  );
  assert.deepEqual(await violations(page, 'copies of duckers'), []);
  assert.deepEqual(faults, []);
  await page.context().close();
});
