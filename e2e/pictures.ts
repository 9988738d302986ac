/**
 * Takes every picture of docs/screenshots from the demo data. `scripts/pictures` starts the program for it; names behind
 * the command take those pictures alone.
 */
import { mkdir } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { act, chosen, drop, freshSession, launch, open, row, stage, typed, until } from './browser.js';
import { midiFile } from './midi.js';
import { drumLoop } from './wav.js';

const FOLDER = 'docs/screenshots';
const wanted = process.argv.slice(2);
const browser = await launch();
await mkdir(FOLDER, { recursive: true });

/** A picture once nothing on the page moves any more but meters. */
async function take(page: Page, name: string): Promise<void> {
  if (wanted.length > 0 && !wanted.includes(name)) return;
  await page.emulateMedia({ colorScheme: name.endsWith('-dark') ? 'dark' : 'light' });
  await page.mouse.move(5, 795);
  await page.evaluate(() => document.fonts.ready);
  const look = () => page.locator('main, body').first().innerText();
  let last = '';
  await until(
    async () => [last, (last = (await look()).replace(/[-\d.:–]+/g, ''))],
    ([before, now]) => before === now,
    'a page that stands still',
  );
  await page.screenshot({ path: `${FOLDER}/${name}.png` });
  console.log(name);
}

const tab = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();
/** Plays until the loop has been heard for a while. */
async function play(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Play' }).first().click();
  await row(page, 'Kick')
    .locator('[data-station=out]')
    .last()
    .and(page.locator(':not([aria-valuetext=silent])'))
    .waitFor();
  // A hit has to be seen whole, and reductions over some seconds.
  await page.waitForTimeout(4000);
}

/** Some changes, so that there is something to compare. */
async function changed(page: Page): Promise<void> {
  await stage(page, 'Levels');
  for (const [label, to] of [
    ['Fader of Kick', '-2.5'],
    ['Fader of Snare', '-6.5'],
    ['Pan of Hat closed', '-35'],
    ['Trim of Keys', '-3'],
    ['Width of Pad', '140'],
  ] as const)
    await typed(page, label, to);
  await stage(page, 'Compare');
  await chosen(page, 'Snare');
}

/** The demo's sessions, as whoever comes first sees them. */
async function demo(): Promise<void> {
  const { page } = await open(browser);
  await page.getByRole('button', { name: 'Open the demo' }).waitFor();
  await take(page, 'sign-in');
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.getByText('Copper Weather').first().waitFor();
  await take(page, 'sessions');
  await page.getByText('Copper Weather').first().click();
  await row(page, 'Kick').waitFor();
  await play(page);
  await chosen(page, 'Kick');
  await take(page, 'bring-in');
  await tab(page, 'Pattern');
  await take(page, 'pattern');
  await chosen(page, 'Sub bass');
  await tab(page, 'Tune');
  await page.getByRole('button', { name: 'Measure', exact: true }).click();
  await page.getByRole('table', { name: 'Ways to tune the kick' }).waitFor();
  await take(page, 'tune-dark');

  await stage(page, 'Route');
  await take(page, 'route');
  await take(page, 'route-dark');
  await page.getByRole('button', { name: 'As a table' }).click();
  await take(page, 'route-table');

  await stage(page, 'Levels');
  await take(page, 'levels');
  await tab(page, 'Trims');
  await page.getByRole('button', { name: /^Measure/ }).click();
  await page.getByRole('table', { name: 'Proposed trims' }).waitFor();
  await take(page, 'trims');

  await stage(page, 'Shape');
  await chosen(page, 'Sub bass');
  await page
    .getByRole('button', { name: /Compressor$/ })
    .first()
    .click();
  await take(page, 'shape');
  await chosen(page, 'Snare');
  await page.getByRole('button', { name: '1. Equaliser' }).click();
  await page.waitForTimeout(3000);
  await take(page, 'equaliser');
  await chosen(page, 'Room');
  await page
    .getByRole('button', { name: /Reverb$/ })
    .first()
    .click();
  await take(page, 'reverb-dark');

  await stage(page, 'Duck');
  await page.getByRole('button', { name: /^Kick ducks Sub bass: / }).click();
  await page
    .getByText(/ms early$|^late by/)
    .first()
    .waitFor();
  await take(page, 'duck');

  await stage(page, 'Parallel');
  await chosen(page, 'Press');
  await page.getByText(/^heard (just now|\d+ s ago)$/).waitFor();
  await take(page, 'parallel');

  await stage(page, 'Compare');
  await page.getByRole('textbox', { name: 'Name of the new snapshot' }).fill('Before the clippers');
  await page.getByRole('button', { name: 'Take a snapshot' }).click();
  await page.getByRole('button', { name: 'Compare with Before the clippers' }).click();
  await changed(page);
  await act(page, 'Another side … to hold against now', 'Without processors');
  await page.getByRole('button', { name: 'C Without processors', exact: true }).waitFor();
  await tab(page, 'Loudness and octaves');
  await page.getByRole('img', { name: /^Power in octaves: A Now, B .*, C / }).waitFor();
  await page.getByText('Something changed').waitFor({ state: 'detached' });
  await page.getByRole('progressbar').waitFor({ state: 'detached' });
  await page.keyboard.press('x');
  await page.getByText('You hear B').waitFor();
  await take(page, 'compare');

  await stage(page, 'Track out');
  await take(page, 'track-out');
  await page.context().close();
}

/** What the demo has no file for: a loop to cut, a take to tell apart. */
async function broughtIn(): Promise<void> {
  const { page } = await freshSession(browser, 'Dust');
  await drop(page, [
    {
      name: 'dusty loop.wav',
      bytes: drumLoop(92, 2, [0, 6, 10, 16, 22, 26], [4, 12, 20, 28, 2, 8, 14, 18, 24, 30]),
    },
  ]);
  await row(page, 'Dusty loop').waitFor();
  await tab(page, 'Cut a loop');
  await page.getByRole('button', { name: /^Cut into \d+ hits/ }).waitFor();
  await page.getByRole('button', { name: /^Cut into [1-9]/ }).waitFor();
  await take(page, 'cut');
  const beats = (key: number, every: number, from = 0) =>
    Array.from({ length: Math.floor(384 / every) }, (_, n) => ({ at: from + n * every, key, channel: 10 }));
  const notes = [...beats(36, 96), ...beats(38, 192, 96), ...beats(42, 24), ...beats(46, 192, 168)];
  await drop(page, [{ name: 'evening take.mid', bytes: midiFile(notes) }]);
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in' }).click();
  await row(page, 'Snare').waitFor();
  await tab(page, 'MIDI takes');
  await take(page, 'takes');
  await page.context().close();
}

await demo();
await broughtIn();
await browser.close();
