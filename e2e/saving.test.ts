/** Nothing that was kept or saved is lost: network cuts, reloads, dead tabs, sign-out, refusals, two tabs. */
import assert from 'node:assert/strict';
import { after, before, test } from 'node:test';
import type { Browser, Page, Route } from 'playwright-core';
import { drop, freshSession, launch, row, stage, until } from './browser.js';
import { tone } from './wav.js';

let browser: Browser;
before(async () => void (browser = await launch()));
after(() => browser.close());

const EDITS = '**/api/sessions/*/edits';
const state = (page: Page, text: string) =>
  page.getByRole('status').getByText(text, { exact: true }).waitFor();
const isSaved = (page: Page) => state(page, 'saved');

/** Makes a bus in Route. */
async function bus(page: Page, name: string): Promise<void> {
  await stage(page, 'Route');
  await page.getByLabel('Name of the new bus').fill(name);
  await page.getByRole('button', { name: 'Put on a new bus' }).click();
  await row(page, name).waitFor();
}

/** A page with one lane, so that a bus has something to take. */
async function beat(title: string) {
  const opened = await freshSession(browser, title);
  await drop(opened.page, [{ name: 'kick.wav', bytes: tone(55, 0.4) }]);
  await row(opened.page, 'Kick').waitFor();
  await isSaved(opened.page);
  return opened;
}

test('what is done without a network is kept through a reload and saved when it is back, once', async () => {
  const { page } = await beat('Cut');
  await page.route('**/api/**', (route) => route.abort());
  await bus(page, 'Drums');
  await bus(page, 'Tops');
  await state(page, 'kept here');
  // Undo works here at once, once for each press.
  await page.getByRole('button', { name: 'Undo' }).click();
  await row(page, 'Tops').waitFor({ state: 'detached' });
  assert.equal(await row(page, 'Drums').count(), 1);
  await page.unroute('**/api/**');
  await page.reload();
  await row(page, 'Drums').waitFor();
  await isSaved(page);
  assert.equal(await row(page, 'Drums').count(), 1);
  assert.equal(await row(page, 'Tops').count(), 0);
  await page.context().close();
});

test('an answer that got lost does not make an edit happen twice', async () => {
  const { page, faults } = await beat('Lost');
  let lost = 0;
  await page.route(EDITS, async (route: Route) => {
    if (lost > 0) return route.continue();
    lost += 1;
    await route.fetch();
    return route.abort();
  });
  await bus(page, 'Drums');
  await isSaved(page);
  assert.equal(lost, 1);
  await page.reload();
  await row(page, 'Drums').waitFor();
  assert.equal(await row(page, 'Drums').count(), 1);
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a page of the network that answers in place of the server saves nothing, and what waits is saved after it', async () => {
  const { page, faults } = await beat('Hotel');
  await page.route(EDITS, (route) =>
    route.fulfill({
      status: 200,
      contentType: 'text/html',
      body: '<!doctype html><p>Sign in to our network</p>',
    }),
  );
  await bus(page, 'Drums');
  await state(page, 'kept here');
  await page.getByText('answers in place of the server').waitFor();
  await page.unroute(EDITS);
  await page.getByRole('button', { name: 'Try now' }).click();
  await isSaved(page);
  await page.reload();
  await row(page, 'Drums').waitFor();
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('a failing server keeps the queue and says what is wrong; a refused edit goes alone, with its reason', async () => {
  const { page } = await beat('Failing');
  const problem = (status: number, type: string, detail: string) => ({
    status,
    contentType: 'application/problem+json',
    body: JSON.stringify({ type, title: '', status, detail }),
  });
  await page.route(EDITS, (route) =>
    route.fulfill(problem(500, 'about:blank', 'Something failed on our side; nothing was changed.')),
  );
  await bus(page, 'Drums');
  await page.getByText('Something failed on our side').waitFor();
  await state(page, 'kept here');
  await bus(page, 'Tops');
  await page.getByRole('button', { name: 'Try now' }).click();
  await page.unroute(EDITS);
  await isSaved(page);

  await page.route(
    EDITS,
    (route) => route.fulfill(problem(422, 'edit-refused', 'Not done: the audio is not yours.')),
    { times: 1 },
  );
  await bus(page, 'Wrong').catch(() => undefined);
  await page.getByText('“New bus Wrong” was taken back: the audio is not yours.').waitFor();
  await row(page, 'Wrong').waitFor({ state: 'detached' });
  assert.equal(await row(page, 'Tops').count(), 1);
  await page.context().close();
});

test('a sign-out in the middle asks for the sign-in and goes on', async () => {
  const { page } = await beat('Out');
  const email = await page.evaluate(async () => (await (await fetch('/api/me')).json()).email as string);
  await page.evaluate(() => fetch('/api/logout', { method: 'POST' }));
  await bus(page, 'Drums');
  const dialog = page.getByRole('dialog', { name: 'Sign in again' });
  await dialog.getByText('1 change is kept here').waitFor();
  await dialog.getByLabel('E-mail address').fill(email);
  await dialog.getByLabel('Password').fill('a password for tests');
  await dialog.getByRole('button', { name: 'Sign in' }).click();
  await dialog.waitFor({ state: 'detached' });
  await isSaved(page);
  assert.equal(await row(page, 'Drums').count(), 1);
  await page.context().close();
});

test('a tab that dies leaves what it kept to the next one', async () => {
  const { page } = await beat('Dead tab');
  const address = page.url();
  await page.route('**/api/**', (route) => route.abort());
  await bus(page, 'Drums');
  await state(page, 'kept here');
  const next = await page.context().newPage();
  await page.close({ runBeforeUnload: false });
  await next.goto(address);
  await row(next, 'Drums').waitFor();
  await isSaved(next);
  await next.context().close();
});

test('two tabs see each other’s changes, their undo says what it undoes, and none is lost', async () => {
  const { page, faults } = await beat('Two');
  const other = await page.context().newPage();
  await other.goto(page.url());
  await row(other, 'Kick').waitFor();
  await Promise.all([bus(page, 'Mine'), bus(other, 'Theirs')]);
  for (const tab of [page, other]) {
    await row(tab, 'Mine').waitFor();
    await row(tab, 'Theirs').waitFor();
    await isSaved(tab);
  }
  const last = await page.getByRole('button', { name: 'Undo' }).getAttribute('title');
  assert.match(last ?? '', /^Undo: New bus (Mine|Theirs)/);
  await page.getByRole('button', { name: 'Undo' }).click();
  const gone = last?.includes('Mine') ? 'Mine' : 'Theirs';
  await row(other, gone).waitFor({ state: 'detached' });
  await until(
    () => other.getByRole('button', { name: 'Redo' }).getAttribute('title'),
    (title) => title?.includes(gone) === true,
    'the other tab can do it again',
  );
  assert.deepEqual(faults, []);
  await page.context().close();
});

test('files of a drop stand alone: a network cut is waited out, a bad one is named, the rest comes in', async () => {
  const { page } = await freshSession(browser, 'Drop');
  let cuts = 0;
  await page.route('**/bring-in?*', (route) => {
    cuts += 1;
    return cuts <= 2 ? route.abort() : route.continue();
  });
  await drop(page, [
    { name: 'kick.wav', bytes: tone(55, 0.4) },
    { name: 'torn.flac', bytes: Buffer.from('fLaC and nothing that makes sense behind it') },
    { name: 'snare.wav', bytes: tone(200, 0.2) },
  ]);
  await row(page, 'Kick').waitFor();
  await row(page, 'Snare').waitFor();
  await page.getByText('torn.flac', { exact: false }).first().waitFor();
  assert.ok(cuts > 3);
  await page.context().close();
});
