/** A person edits in a real browser, which is reloaded, cut off, closed and killed; then all that was kept is counted. */
import { createRequire } from 'node:module';
import { Caller, freePort, Kept, newSession, sleep } from './program.mjs';

const { chromium } = createRequire(new URL('../e2e/package.json', import.meta.url))('playwright-core');
const times = Number(process.argv[2] ?? 500);
const profile = process.argv[3];
/** Edits of one session; each adds a strip. */
const PER_SESSION = 100;
const port = await freePort();
const address = `http://127.0.0.1:${port}`;
const server = new Kept(['serve', '--listen', `127.0.0.1:${port}`]);
const caller = new Caller(address);
const account = await caller.signUp();

const launch = () =>
  chromium.launchPersistentContext(profile, {
    executablePath: '/usr/bin/chromium',
    headless: true,
    viewport: { width: 1280, height: 800 },
    args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-sync'],
  });
let context = await launch();
const browserPid = async () => {
  const { execFileSync } = await import('node:child_process');
  const found = execFileSync('pgrep', ['-f', `user-data-dir=${profile}`]).toString().trim().split('\n').map(Number);
  return Math.min(...found);
};

async function open(session) {
  const page = context.pages()[0] ?? (await context.newPage());
  page.setDefaultTimeout(60_000);
  await page.goto(`${address}/s/${session}`);
  const button = page.getByRole('button', { name: 'Sign in' });
  const stages = page.getByRole('navigation', { name: 'Stages' });
  await button.or(stages).first().waitFor();
  if (await button.isVisible()) {
    await page.getByLabel('E-mail address').fill(account.email);
    await page.getByLabel('Password').fill(account.password);
    await button.click();
    await stages.waitFor();
  }
  await stages.getByRole('button', { name: 'Route' }).click();
  await page.getByLabel('Name of the new bus').waitFor();
  return page;
}

const kept = new Map();
const did = { reloads: 0, cuts: 0, closed: 0, killed: 0 };
let session = await newSession(caller);
kept.set(session, []);
let page = await open(session);
for (let n = 0; n < times; n += 1) {
  if (n > 0 && n % PER_SESSION === 0) {
    session = await newSession(caller);
    kept.set(session, []);
    page = await open(session);
  }
  const name = `Bus ${n}`;
  const how = n % 25 === 24 ? 'killed' : ['reloads', 'cuts', 'closed'][Math.floor(Math.random() * 3)];
  const offline = how !== 'killed' && Math.random() < 0.5;
  if (offline || how === 'cuts') await context.setOffline(true);
  await page.getByLabel('Name of the new bus').fill(name);
  await page.getByRole('button', { name: 'Put on a new bus' }).click();
  // Said to be kept or saved, it counts.
  await page.getByRole('status').getByText(/^(kept here|saved)$/).first().waitFor();
  await page.locator(`[data-row="${name}"]`).waitFor();
  const said = await page.getByRole('status').first().innerText();
  if (said === 'kept here' || said === 'saved') kept.get(session).push(name);
  did[how] += 1;
  if (how === 'cuts') {
    await sleep(Math.random() * 300);
    await context.setOffline(false);
    continue;
  }
  if (how === 'closed') {
    await context.newPage();
    await page.close({ runBeforeUnload: false });
  } else if (how === 'killed') {
    process.kill(await browserPid(), 'SIGKILL');
    await context.close().catch(() => undefined);
    await sleep(300);
    context = await launch();
  }
  await context.setOffline(false);
  page = await open(session);
  if ((n + 1) % 50 === 0) console.log(`${n + 1} of ${times}: ${JSON.stringify(did)}`);
}
// Every session is opened once more, so that what waits there is sent.
const count = { kept: 0, lost: 0, twice: 0 };
for (const [id, names] of kept) {
  page = await open(id);
  await page.getByRole('status').getByText('saved', { exact: true }).first().waitFor();
  const { json } = await caller.insist('GET', `/api/sessions/${id}`);
  const there = json.document.strips.map((s) => s.name);
  for (const name of names) {
    const found = there.filter((t) => t === name).length;
    count.kept += 1;
    if (found === 0) console.log(`lost: ${name} of ${id}`);
    count.lost += found === 0 ? 1 : 0;
    count.twice += found > 1 ? 1 : 0;
  }
}
await context.close();
await server.kill('SIGTERM');
console.log(`${times} times (${JSON.stringify(did)}): ${count.kept} kept, ${count.lost} lost, ${count.twice} twice`);
process.exit(count.lost + count.twice === 0 ? 0 : 1);
