/** Everything a beat can arrive as becomes named, playable voices. */
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, before, test } from 'node:test';
import type { Browser, Page } from 'playwright-core';
import { violations } from './axe.js';
import { drop, freshSession, launch, level, row, stage, until } from './browser.js';
import { midiFile, type MidiNote } from './midi.js';
import { drumLoop, tone, withTimeReference } from './wav.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

const tab = (page: Page, name: string) => page.getByRole('tab', { name }).click();
const chosen = (page: Page, name: string) => row(page, name).click({ position: { x: 60, y: 10 } });
const hits = (page: Page, name: string) => row(page, name).locator('[data-hit]').count();

const heard = (page: Page, name: string) =>
  until(
    () => level(page, name),
    (db) => db !== null && db > -60,
    `${name} sounds`,
  );

/** Types into a value field. */
async function type(page: Page, label: string, value: string): Promise<void> {
  await page.getByRole('spinbutton', { name: label, exact: true }).press('Enter');
  const input = page.getByLabel(new RegExp(`^${label} in`));
  await input.fill(value);
  await input.press('Enter');
}

test('a kit on one MIDI track is put together, renamed and heard', async () => {
  const { page, faults } = await freshSession(browser, 'Kit');
  const on = (key: number, at: number[]): MidiNote[] => at.map((t) => ({ at: t, key, channel: 10 }));
  const notes = [
    on(36, [0, 192]),
    on(38, [96]),
    on(41, [240]),
    on(45, [264]),
    on(50, [288]),
    on(49, [0]),
  ].flat();
  await drop(page, [{ name: 'kit.mid', bytes: midiFile(notes) }]);
  const table = page.getByRole('table', { name: 'Notes of Kit' });
  await table.waitFor();
  await row(page, 'Toms').waitFor();
  const figures = await table.locator('[data-note="Kick"] td').allInnerTexts();
  assert.deepEqual([figures[1], figures[2], figures[4], figures[5]], ['36', '10', '2', '1']);

  // Apart, then together again: two by a choice, one by dragging.
  await page.getByRole('button', { name: 'Each note alone' }).click();
  await row(page, 'Tom high').waitFor();
  assert.equal(await row(page, 'Toms').count(), 0);
  // Low and floor play one sound, so nothing is lost; the high one has its own, so somebody is asked which one plays.
  await table.getByLabel('Voice of Tom low').selectOption({ label: 'Tom floor low' });
  await row(page, 'Tom low').waitFor({ state: 'detached' });
  const asked = page.getByRole('dialog', { name: 'Whose sound plays' });
  const drag = () => table.locator('[data-note="Tom high"]').dragTo(table.locator('[data-note="Tom low"]'));
  await drag();
  await asked.getByRole('button', { name: 'Leave as it is' }).click();
  await row(page, 'Tom high').waitFor();
  await drag();
  await asked.getByLabel('Sound of Tom floor low').selectOption({ label: 'the sound of Tom high' });
  await asked.getByRole('button', { name: 'Put together' }).click();
  await row(page, 'Tom high').waitFor({ state: 'detached' });
  assert.equal(await hits(page, 'Tom floor low'), 3);

  await row(page, 'Tom floor low').getByRole('button', { name: 'Tom floor low', exact: true }).dblclick();
  await page.keyboard.type('Toms of the attic');
  await page.keyboard.press('Enter');
  await table
    .getByLabel('Voice of Tom low')
    .locator('option:checked', { hasText: 'Toms of the attic' })
    .waitFor({ state: 'attached' });
  await page.getByRole('button', { name: 'Play' }).click();
  for (const name of ['Kick', 'Snare', 'Toms of the attic', 'Cymbals']) await heard(page, name);
  await page.getByRole('button', { name: 'Stop' }).click();

  // As it came: everything back in one step each.
  for (let n = 0; n < 4; n += 1) {
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByText('saved', { exact: true }).waitFor();
  }
  await row(page, 'Toms').waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a loop is cut at its hits and its pieces run on channels of their own', async () => {
  const { page, faults } = await freshSession(browser, 'Loop');
  const bytes = drumLoop(92, 2, [0, 6, 16, 22], [4, 12, 20, 28, 10]);
  await drop(page, [{ name: 'dusty.wav', bytes }]);
  await row(page, 'Dusty').waitFor();
  await tab(page, 'Cut a loop');
  await page.getByRole('button', { name: 'Cut into 9 hits' }).waitFor();
  await page.getByRole('button', { name: '92.00 bpm' }).waitFor();
  await page.getByRole('button', { name: 'Give the session this tempo' }).click();
  await page.getByText('The session runs at this tempo.').waitFor();

  // A cut more by a click, and away again.
  const picture = page.getByTestId('loop');
  const box = (await picture.boundingBox()) as { width: number; height: number };
  const between = { x: (box.width * 2.4) / 32, y: box.height - 8 };
  await picture.click({ position: between });
  await page.getByRole('button', { name: 'Cut into 10 hits' }).waitFor();
  await picture.click({ position: between });
  await page.getByRole('button', { name: 'Cut into 9 hits' }).click();

  await row(page, 'Dusty low').waitFor();
  assert.equal(await hits(page, 'Dusty low'), 8);
  assert.equal(await hits(page, 'Dusty hats'), 10);
  const mute = row(page, 'Dusty').getByRole('button', { name: 'Mute Dusty', exact: true });
  assert.equal(await mute.getAttribute('aria-pressed'), 'true');
  await page.getByRole('button', { name: 'Play' }).click();
  await heard(page, 'Dusty low');
  await heard(page, 'Dusty hats');
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a kick is tuned to the bass and measured again', async () => {
  const { page, faults } = await freshSession(browser, 'Tuned');
  await drop(page, [
    { name: 'kick.wav', bytes: tone(50, 0.6) },
    { name: 'sub bass.wav', bytes: tone(43.654, 1.5) },
  ]);
  await chosen(page, 'Sub bass');
  await row(page, 'Sub bass')
    .getByRole('grid')
    .click({ position: { x: 20, y: 12 } });
  await tab(page, 'Tune');
  await page.getByText('saved', { exact: true }).waitFor();
  await page.getByRole('button', { name: 'Measure' }).click();
  const figure = () => page.getByTestId('kick-hz').innerText();
  await until(figure, (t) => Math.abs(Number.parseFloat(t) - 50) < 0.1, 'the kick is measured');
  await page.getByRole('button', { name: 'Tune down to F' }).click();
  // Within a cent of F1, which is 43.654 Hz.
  await until(figure, (t) => Math.abs(Number.parseFloat(t) - 43.654) < 0.03, 'the kick is in tune');
  await page.getByText('in tune').waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('samples are swapped in the groove, shaped, layered and copied', async () => {
  const { page, faults } = await freshSession(browser, 'Sounds');
  await drop(page, [{ name: 'kick.wav', bytes: tone(55, 0.4) }]);
  await row(page, 'Kick').waitFor();
  await tab(page, 'Pattern');
  await page.getByRole('button', { name: 'Every beat' }).click();
  assert.equal(await hits(page, 'Kick'), 16);
  await tab(page, 'Sound');
  const library = page.getByRole('listbox', { name: 'Sounds' });
  await library.getByText('Kick').waitFor();
  await page.getByLabel('Search sounds').fill('nothing so');
  await page.getByText('No sound is called so.').waitFor();
  await drop(page, [{ name: 'deep boom.wav', bytes: tone(70, 0.5) }]);
  await row(page, 'Deep boom').waitFor();
  await page.getByLabel('Search sounds').fill('boom');
  await chosen(page, 'Kick');
  await library.getByText('Deep boom').waitFor();
  await page.getByRole('button', { name: 'Play' }).click();
  await library.focus();
  await page.keyboard.press('ArrowDown');
  const layers = page.getByRole('list', { name: 'Layers of Kick' });
  await layers.getByText('deep boom.wav').waitFor();
  await page.keyboard.press('Escape');
  await layers.getByText('kick.wav').waitFor();
  await page.keyboard.press('ArrowDown');
  await layers.getByText('deep boom.wav').waitFor();
  // Going on to another row keeps it, as one step that can be undone where that is said.
  await chosen(page, 'Deep boom');
  await page.getByText('Kept: Deep boom.').waitFor();
  await page.getByTestId('walked').locator('..').getByRole('button', { name: 'Undo' }).click();
  await chosen(page, 'Kick');
  await layers.getByText('kick.wav').waitFor();
  await library.focus();
  await page.keyboard.press('ArrowDown');
  await layers.getByText('deep boom.wav').waitFor();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Undo' }).and(page.locator(':enabled')).waitFor();
  await heard(page, 'Kick');
  await page.getByRole('button', { name: 'Stop' }).click();

  // Shape: a decay, an end that cuts, values typed.
  await page.getByRole('button', { name: 'Decay', exact: true }).click();
  await type(page, 'Decay of layer 1', '120');
  await type(page, 'End of layer 1', '200');
  await page.getByText('deep boom.wav, cut, decays').waitFor();
  await type(page, 'Start of layer 1', '900');
  // A start behind the end cannot be set: it stops before it.
  await until(
    () => page.getByRole('spinbutton', { name: 'Start of layer 1' }).getAttribute('aria-valuenow'),
    (ms) => Number(ms) < 200,
    'the start lies before the end',
  );
  await type(page, 'Start of layer 1', '0');

  // A copy that follows, and one that does not.
  await page.getByRole('button', { name: 'Copy the lane' }).click();
  await row(page, 'Kick copy').waitFor();
  assert.equal(await hits(page, 'Kick copy'), 16);
  await row(page, 'Kick')
    .getByRole('grid')
    .click({ position: { x: 5, y: 12 } });
  await page.keyboard.press('Delete');
  await until(
    () => hits(page, 'Kick copy'),
    (n) => n < 16,
    'the copy follows',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('what comes in together is trimmed by one amount to the target, in one step', async () => {
  const { page, faults } = await freshSession(browser, 'Trimmed');
  await tab(page, 'Files');
  await page.getByLabel('Trim what comes in together').check();
  const quiet = tone(200, 0.2);
  await drop(page, [
    { name: 'kick.wav', bytes: tone(55, 0.4) },
    { name: 'snare.wav', bytes: quiet },
  ]);
  await row(page, 'Snare').waitFor();
  await page
    .getByTestId('walked')
    .getByText(/All trims are -?\+?\d+\.\d dB, so that the loudest peaks at -12\.0 dBFS/)
    .waitFor();
  // All that came in is chosen.
  await tab(page, 'Pattern');
  await page.getByRole('button', { name: 'Every beat' }).click();
  const velocity = 40 * Math.log10(100 / 127);
  await stage(page, 'Levels');
  const trim = (name: string) =>
    page.getByRole('spinbutton', { name: `Trim of ${name}` }).getAttribute('aria-valuenow');
  const both = [await trim('Kick'), await trim('Snare')];
  assert.equal(both[0], both[1]);
  assert.ok(Math.abs(Number(both[0])) > 0.05);
  await page.getByRole('button', { name: 'Play' }).click();
  await until(
    () => level(page, 'Kick'),
    (db) => db !== null && Math.abs(db + 12 - velocity) < 0.5,
    'it peaks at the target, softer by its velocity',
  );
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Kick').waitFor({ state: 'detached' });
  await row(page, 'Snare').waitFor({ state: 'detached' });
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('patterns by rule, by dice and by hand, out as MIDI and in again the same', async () => {
  const { page, faults } = await freshSession(browser, 'Pattern');
  await drop(page, [{ name: 'hat closed.wav', bytes: tone(6000, 0.1) }]);
  await row(page, 'Hat closed').waitFor();
  await tab(page, 'Pattern');
  await page.getByRole('button', { name: 'Random fill' }).click();
  const first = await hits(page, 'Hat closed');
  await page.getByRole('button', { name: 'Roll again' }).click();
  // Drawn as what it is; other changes go on beside it, undo and leaving put it back and say so.
  const tried = row(page, 'Hat closed').locator('[data-trial]');
  assert.ok((await tried.count()) > 0);
  await page.getByRole('button', { name: 'Mute Hat closed' }).click();
  await page.getByRole('button', { name: 'Mute Hat closed' }).click();
  await until(
    () => tried.count(),
    (n) => n > 0,
    'muting leaves it as it is',
  );
  await page.getByRole('button', { name: 'Put back' }).click();
  assert.equal(await hits(page, 'Hat closed'), 0);
  const said = page.getByTestId('walked');
  await page.getByRole('button', { name: 'Ghost notes' }).click();
  await page.keyboard.press('Control+z');
  await said.getByText('Put back: Ghost notes').waitFor();
  await page.getByRole('button', { name: 'Random fill' }).click();
  await stage(page, 'Track out');
  await said.getByText('Put back: Random fill').waitFor();
  await stage(page, 'Bring in');
  await tab(page, 'Pattern');
  assert.equal(await hits(page, 'Hat closed'), 0);
  await page.getByRole('button', { name: 'Random fill' }).click();
  await page.getByRole('button', { name: 'Keep' }).click();
  const kept = await hits(page, 'Hat closed');
  assert.ok(first > 0 && kept > 0);
  // By rule beside what is there, or instead of it.
  await page.getByRole('button', { name: 'Every off-beat' }).click();
  assert.ok((await hits(page, 'Hat closed')) >= Math.max(kept, 16));
  await page.getByLabel('instead of what is there').check();
  await page.getByRole('button', { name: 'Every off-beat' }).click();
  assert.equal(await hits(page, 'Hat closed'), 16);

  // One hit by hand: repeats, a shift off the grid.
  const grid = row(page, 'Hat closed').getByRole('grid');
  const box = (await grid.boundingBox()) as { x: number; y: number; width: number; height: number };
  const at = { x: box.x + (box.width * 2.3) / 64, y: box.y + box.height / 2 };
  // A press on a hit chooses it, Delete removes it, a press on an empty step sets one.
  await page.mouse.click(at.x, at.y);
  await page.getByRole('spinbutton', { name: 'Velocity of the hit' }).waitFor();
  assert.equal(await hits(page, 'Hat closed'), 16);
  await page.keyboard.press('Delete');
  await until(
    () => hits(page, 'Hat closed'),
    (n) => n === 14,
    'the hit is gone, in both rounds of the pattern',
  );
  await page.mouse.click(at.x, at.y);
  await until(
    () => hits(page, 'Hat closed'),
    (n) => n === 16,
    'a hit again',
  );
  await page.mouse.move(at.x, at.y);
  await page.keyboard.down('Alt');
  await page.mouse.down();
  await page.mouse.move(at.x + 4, at.y, { steps: 3 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  const shift = page.getByRole('spinbutton', { name: 'Shift of the hit' });
  await until(
    () => shift.getAttribute('aria-valuenow'),
    (ticks) => Number(ticks) > 0,
    'the hit is later',
  );
  await type(page, 'Repeats of the hit', '3');
  await until(
    () => hits(page, 'Hat closed'),
    (n) => n === 20,
    'the hit repeats',
  );
  await page.getByRole('button', { name: 'One bar, to be changed' }).click();
  await type(page, 'Length of the loop in steps', '12');
  await page.getByRole('button', { name: 'Vary time and level a little' }).click();
  await page.getByRole('button', { name: 'Straight again' }).waitFor();

  await tab(page, 'Song');
  await page.getByText('saved', { exact: true }).waitFor();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export as MIDI' }).click(),
  ]);
  const shown = await hits(page, 'Hat closed');
  const bytes = readFileSync(await file.path());
  const again = await freshSession(browser, 'Again');
  await drop(again.page, [{ name: 'pattern.mid', bytes }]);
  await row(again.page, 'Hat closed').waitFor();
  // Repeats and the loop of its own are notes now: as many as were drawn.
  assert.equal(await hits(again.page, 'Hat closed'), shown);
  assert.deepEqual([...faults, ...again.faults], []);
  await again.page.context().close();
  await page.context().close();
});

test('a folder and a ZIP file come in; what is no sound is left, what is broken is named', async () => {
  const { page, faults } = await freshSession(browser, 'Packed');
  const folder = mkdtempSync(join(tmpdir(), 'pack-'));
  try {
    writeFileSync(join(folder, '01 Kick.wav'), tone(55, 0.3));
    writeFileSync(join(folder, 'Guitar left.wav'), tone(330, 9));
    writeFileSync(join(folder, 'broken.wav'), 'RIFF and nothing else');
    writeFileSync(join(folder, 'notes.txt'), 'not a sound');
    const packed = ['01 Kick.wav', 'Guitar left.wav', 'broken.wav', 'notes.txt'];
    execFileSync('zip', ['-q', 'pack.zip', ...packed], { cwd: folder });
    await tab(page, 'Files');
    await page.getByLabel('Folder to bring in').setInputFiles(folder);
    await row(page, 'Kick').waitFor();
    const refusedOne = page.getByRole('list', { name: 'What was not brought in' });
    await refusedOne.getByText(/^pack-[^/]*\/broken.wav$/).waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await row(page, 'Kick').waitFor({ state: 'detached' });
    await drop(page, [
      { name: 'takes.zip', bytes: readFileSync(join(folder, 'pack.zip')) },
      { name: 'torn.zip', bytes: Buffer.from('PK and nothing else') },
    ]);
    await row(page, 'Kick').waitFor();
    await row(page, 'Guitar left').waitFor();
    const refused = page.getByRole('list', { name: 'What was not brought in' });
    await refused.getByText('takes.zip/broken.wav').waitFor();
    await refused.getByText('torn.zip', { exact: true }).waitFor();
    assert.equal(await refused.getByText('notes.txt').count(), 0);
    const told = page.getByRole('list', { name: 'What to know about what came in' });
    await told.getByText('Passed over, since they are no sound: takes.zip/notes.txt.').waitFor();
  } finally {
    rmSync(folder, { recursive: true });
  }
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('recordings stand at their time references where all of them have one', async () => {
  const { page, faults } = await freshSession(browser, 'Aligned');
  const hour = 48_000 * 3600;
  const take = (hz: number, at: number) => withTimeReference(tone(hz, 9, 48_000), at);
  await drop(page, [
    { name: 'room.wav', bytes: take(220, hour + 72_001) },
    { name: 'guitar.wav', bytes: take(330, hour) },
  ]);
  await row(page, 'Room').waitFor();
  await tab(page, 'Files');
  await page.getByText('Recordings stand at their time references').waitFor();
  await tab(page, 'Sound');
  const start = page.getByRole('spinbutton', { name: 'Start of the recording after bar 1' });
  const seconds = async () => Number(await start.getAttribute('aria-valuenow'));
  await chosen(page, 'Room');
  await until(seconds, (s) => Math.abs(s * 48_000 - 72_001) < 0.5, 'to the sample');
  await chosen(page, 'Guitar');
  await until(seconds, (s) => s === 0, 'the first at bar 1');
  // One without a time reference: all start at bar 1.
  await drop(page, [
    { name: 'keys.wav', bytes: tone(440, 9, 48_000) },
    { name: 'horns.wav', bytes: take(500, hour + 48_000) },
  ]);
  await row(page, 'Horns').waitFor();
  await chosen(page, 'Horns');
  await until(seconds, (s) => s === 0, 'at bar 1');
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('notes of a MIDI file are shown with their lanes and sent elsewhere before they come in', async () => {
  const { page, faults } = await freshSession(browser, 'Notes');
  await drop(page, [{ name: 'Kik.wav', bytes: tone(50, 0.3) }]);
  await row(page, 'Kik').waitFor();
  const notes = [36, 38, 42, 42].map((key, n) => ({ at: 96 * n, key, channel: 10 }));
  await drop(page, [
    { name: 'Hh closed.wav', bytes: tone(6000, 0.1) },
    { name: 'beat.mid', bytes: midiFile(notes) },
  ]);
  const asking = page.getByRole('dialog', { name: 'Where they go' });
  const lane = (name: string) => asking.getByLabel(`Lane for the notes of ${name}`);
  const shown = (name: string) => lane(name).locator('option:checked').innerText();
  assert.deepEqual(await Promise.all(['Kick', 'Snare', 'Hat closed'].map(shown)), [
    'Kik',
    'a new lane',
    'Hh closed, which comes in',
  ]);
  await asking.getByText('2 notes').waitFor();
  assert.deepEqual(await violations(page, 'where they go'), []);
  await asking.getByRole('button', { name: 'All in new lanes' }).click();
  assert.equal(await shown('Kick'), 'a new lane');
  await asking.getByRole('button', { name: 'As proposed' }).click();
  await lane('Snare').selectOption({ label: 'Hh closed, which comes in' });
  await asking.getByRole('button', { name: 'Bring in' }).click();
  await row(page, 'Hh closed').waitFor();
  assert.equal(await page.locator('[data-row]').filter({ hasText: 'Snare' }).count(), 0);
  assert.deepEqual(await Promise.all(['Kik', 'Hh closed'].map((name) => hits(page, name))), [1, 3]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Hh closed').waitFor({ state: 'detached' });
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('files fill the lanes of a template that wait for them, on a word beforehand, or where they are dropped', async () => {
  const { page, faults } = await freshSession(browser, 'Waiting lanes');
  await page.getByRole('button', { name: 'Menu' }).click();
  await page.getByRole('menuitem', { name: 'All sessions' }).click();
  await page.getByRole('button', { name: 'Start from Family kit' }).click();
  await page.getByLabel('Title').fill('Filled');
  await page.getByRole('button', { name: 'New session' }).click();
  await row(page, 'Hat closed').waitFor();
  const lanes = await page.locator('[data-row]').count();

  await drop(page, [
    { name: '10 Rimshot.wav', bytes: tone(700, 0.1) },
    { name: '2 Hh closed.wav', bytes: tone(6000, 0.1) },
    { name: '1 BD deep.wav', bytes: tone(50, 0.3) },
  ]);
  const asking = page.getByRole('dialog', { name: 'Where they go' });
  const lane = (name: string) => asking.getByLabel(`Lane of ${name}`).locator('option:checked').innerText();
  assert.deepEqual(await Promise.all(['BD deep', 'Hh closed', 'Rimshot'].map(lane)), [
    'Kick',
    'Hat closed',
    'a new lane on Snares and claps',
  ]);
  // A lane that is chosen for another leaves the one that had it, and all can go elsewhere at once.
  await asking.getByLabel('Lane of Rimshot').selectOption({ label: 'Kick' });
  assert.match(await lane('BD deep'), /^a new lane/);
  await asking.getByRole('button', { name: 'All in new lanes' }).click();
  assert.match(await lane('Hh closed'), /^a new lane/);
  await asking.getByRole('button', { name: 'As proposed' }).click();
  await asking.getByRole('button', { name: 'Bring in' }).click();
  await row(page, 'Rimshot').waitFor();
  assert.equal(await page.locator('[data-row]').count(), lanes + 1, 'one new lane, two filled');
  const came = page.locator('[data-row][aria-selected=true]');
  assert.deepEqual(await came.evaluateAll((rows) => rows.map((r) => r.getAttribute('data-row'))), [
    'Kick',
    'Hat closed',
    'Rimshot',
  ]);

  // The chosen lanes move together; one undo takes the files back.
  await chosen(page, 'Hat closed');
  await row(page, 'Rimshot').click({ position: { x: 60, y: 10 }, modifiers: ['Control'] });
  await page.keyboard.press('Alt+ArrowUp');
  const order = () =>
    page.locator('[data-row]').evaluateAll((rows) => rows.map((r) => r.getAttribute('data-row')));
  await until(
    order,
    (names) => names.slice(1, 5).join() === 'Snare,Hat closed,Rimshot,Clap',
    'they moved together',
  );
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Rimshot').waitFor({ state: 'detached' });

  // Dropped on a lane, a file is its sound, whatever it is called.
  await drop(page, [{ name: 'glass.wav', bytes: tone(900, 0.2) }], '[data-row="Clap"]');
  await chosen(page, 'Clap');
  await page.getByRole('tab', { name: 'Sound' }).click();
  await page.getByText('glass').first().waitFor();
  assert.equal(await page.locator('[data-row]').count(), lanes);
  assert.deepEqual(faults, []);
  await page.context().close();
});
