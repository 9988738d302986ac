/** Why a lane is not heard, said and repaired; buses by family; checks put right or out of sight. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser } from 'playwright-core';
import { beat, chosen, goesTo, launch, row, sendTo, stage, until } from './browser.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

test('family buses are shown, then made and fed in one action', async () => {
  const { page, faults } = await beat(browser, 'Families');
  await page.getByRole('button', { name: 'Family buses …' }).click();
  const proposal = page.getByRole('list', { name: 'Family buses, as they would be' });
  await proposal.getByText('Snares and claps: Clap, Snare').waitFor();
  await page.getByRole('button', { name: 'Make these buses' }).click();
  await until(
    () => goesTo(page, 'Clap'),
    (to) => to === 'Snares and claps',
    'the clap is on its bus',
  );
  assert.equal(await goesTo(page, 'Kick'), 'Low');
  assert.equal(await goesTo(page, 'Low'), 'Mix bus');
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Low').waitFor({ state: 'detached' });
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('silence is explained and repaired from the trace, five ways', async () => {
  const { page, faults } = await beat(browser, 'Silent');
  const trace = page.getByRole('region', { name: 'Trace' });
  await chosen(page, 'Snare');
  await trace.getByText('Snare goes to Mix bus, then Main.').waitFor();
  const repaired = async (sentence: string, repair: string) => {
    await chosen(page, 'Snare');
    await trace.getByText(sentence).waitFor();
    await trace.getByRole('button', { name: repair }).click();
    await trace.getByText('Snare goes to Mix bus, then Main.').waitFor();
  };
  await row(page, 'Mix bus').getByRole('button', { name: 'Mute Mix bus' }).click();
  await repaired('Snare is silent: its bus Mix bus is muted.', 'Unmute Mix bus');
  await row(page, 'Kick').getByRole('button', { name: 'Solo Kick' }).click();
  await repaired('Snare is silent: solo is on at Kick.', 'Take every solo off');
  await sendTo(page, 'Snare', 'Nothing');
  await repaired('Snare is silent: it goes to nothing.', 'Send Snare to Mix bus');
  await sendTo(page, 'Mix bus', 'Nothing');
  await repaired('Snare is silent: its bus Mix bus goes to nothing.', 'Send Mix bus to Main');
  await stage(page, 'Levels');
  await chosen(page, 'Snare');
  const fader = row(page, 'Snare').getByRole('spinbutton', { name: /^Fader/ });
  await fader.focus();
  await page.keyboard.press('Home');
  await stage(page, 'Route');
  await repaired('Snare is silent: the fader of it is off.', 'Bring Snare to 0 dB');
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('checks are put right with a click, or put out of sight and back', async () => {
  const { page, faults } = await beat(browser, 'Checks');
  const list = page.getByRole('region', { name: 'Checks' });
  await list.getByText('Nothing else worth a look').waitFor();
  await sendTo(page, 'Clap', 'Main');
  await list.getByText('Clap goes straight into main, past Mix bus.').waitFor();
  await list.getByRole('button', { name: 'Send it to Mix bus' }).click();
  await list.getByText('Nothing else worth a look').waitFor();
  await row(page, 'Clap').getByRole('button', { name: 'Mute Clap' }).click();
  await list.getByRole('button', { name: 'Do not show' }).click();
  await list.getByText('Nothing else worth a look').waitFor();
  await list.getByRole('button', { name: 'Show 1 dismissed check' }).click();
  await list.getByRole('button', { name: 'Show again' }).click();
  await list.getByText('1 thing worth a look').waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});
