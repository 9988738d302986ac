/** The same page in Firefox: heard, changed, tracked out, bit for bit. */
import assert from 'node:assert/strict';
import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';
import { ADDRESS, until } from './browser.js';
import { folderToPlay, nativeBits, playedBits } from './lane.js';
import { peak, readWav, tone } from './wav.js';

/** Another folder for what runs, so that nothing of the person's own sound is met. */
const launch = (runtime: string): Promise<Browser> =>
  puppeteer.launch({
    browser: 'firefox',
    executablePath: process.env['ZL_FIREFOX'] ?? '/usr/bin/firefox-esr',
    headless: true,
    env: { ...process.env, XDG_RUNTIME_DIR: runtime, PULSE_SERVER: `unix:${runtime}/pulse/native` },
    extraPrefsFirefox: { 'media.cubeb.backend': 'pulse-rust' },
  });

/** Runs with a sound device that leads nowhere. */
async function withDevice(runtime: string, work: () => Promise<void>): Promise<void> {
  const modules = ['--load=module-null-sink', '--load=module-native-protocol-unix'];
  const server = spawn('pulseaudio', ['-n', '--daemonize=no', '--exit-idle-time=-1', ...modules], {
    env: { ...process.env, XDG_RUNTIME_DIR: runtime, HOME: runtime },
    stdio: 'ignore',
  });
  try {
    await until(
      () => Promise.resolve(existsSync(join(runtime, 'pulse', 'native'))),
      (there) => there,
      'the sound device is there',
    );
    await work();
  } finally {
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill();
    await ended;
  }
}

/** A page of 1280 x 800 whose faults are kept. */
async function opened(browser: Browser): Promise<{ page: Page; faults: string[] }> {
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(String(error)));
  await page.goto(ADDRESS);
  return { page, faults };
}

const by = (page: Page, role: string, name: string) =>
  page.locator(`::-p-aria([name="${name}"][role="${role}"])`);
const press = (page: Page, name: string) => by(page, 'button', name).click();
const stage = (page: Page, name: string) => page.locator(`nav[aria-label=Stages] ::-p-text(${name})`).click();
const text = (page: Page, selector: string) =>
  page.$eval(selector, (found) => (found as HTMLElement).innerText).catch(() => '');
const kick = '[data-row="Kick"]';
const level = (page: Page) =>
  page
    .$eval(`${kick} [data-station=out]`, (meter) =>
      Number.parseFloat(meter.getAttribute('aria-valuetext') ?? ''),
    )
    .catch(() => NaN);

async function signedUp(page: Page, title: string): Promise<void> {
  await press(page, 'Make an account');
  await page.locator('input[type=email]').fill(`fox${process.pid}-${Date.now()}@example.invalid`);
  await page.locator('input[type=password]').fill('a password for tests');
  await press(page, 'Sign up');
  await page.locator('::-p-aria([name="Title"])').fill(title);
  await press(page, 'New session');
  await page.locator('nav[aria-label=Stages]').wait();
}

/** A folder that is gone afterwards. */
async function inFolder(work: (folder: string) => Promise<void>): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'fox-'));
  try {
    await work(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

test('Firefox plays a beat, follows a fader, tracks out, and computes the same bits', async () => {
  await inFolder((folder) =>
    withDevice(folder, async () => {
      const browser = await launch(folder);
      try {
        const { page, faults } = await opened(browser);
        await signedUp(page, 'Night Ferry');
        const file = join(folder, 'Kick.wav');
        writeFileSync(file, tone(55, 0.4));
        await by(page, 'tab', 'Files').click();
        const input = await page.waitForSelector('input[aria-label="Files to bring in"]');
        await (input as NonNullable<typeof input> & { uploadFile(path: string): Promise<void> }).uploadFile(
          file,
        );
        await page.locator(kick).wait();
        await page.focus(`${kick} [role=grid]`);
        for (let beat = 0; beat < 4; beat += 1) {
          await page.keyboard.press('Enter');
          for (let step = 0; step < 4; step += 1) await page.keyboard.press('ArrowRight');
        }
        await until(
          () => page.$$eval(`${kick} [data-hit]`, (hits) => hits.length),
          (n) => n >= 4,
          'hits',
        );

        await press(page, 'Play');
        const loud = await until(
          () => level(page),
          (db) => db > -20,
          'the kick sounds',
        );
        await stage(page, 'Levels');
        await page.focus('::-p-aria([name="Fader of Kick"])');
        await page.keyboard.press('Enter');
        await page.keyboard.type('-24');
        await page.keyboard.press('Enter');
        await until(
          () => level(page),
          (db) => Math.abs(db - loud + 24) < 1,
          'the meter follows the fader',
        );
        await press(page, 'Undo');
        await until(
          () => level(page),
          (db) => Math.abs(db - loud) < 1,
          'undone',
        );

        await stage(page, 'Track out');
        await page.locator('main ::-p-aria([name="Track out"][role="button"])').click();
        await until(
          () => text(page, '[data-testid=render-status]'),
          (status) => /done/.test(status),
          'tracked out',
        );
        const figure = Number.parseFloat(await text(page, '[data-testid=sum-figure]'));
        assert.ok(figure <= -120, `the page says ${figure} dBFS`);
        const packed = await page.$eval('a[href$=".zip"], a[download]', async (link) => {
          const bytes = new Uint8Array(await (await fetch((link as HTMLAnchorElement).href)).arrayBuffer());
          return btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''));
        });
        writeFileSync(join(folder, 'stems.zip'), Buffer.from(packed, 'base64'));
        execFileSync('unzip', ['-q', 'stems.zip', '-d', 'stems'], { cwd: folder });
        const stem = readdirSync(join(folder, 'stems')).find((name) => name.startsWith('01_Kick')) ?? 'none';
        const wav = readWav(readFileSync(join(folder, 'stems', stem)));
        assert.ok(
          Math.abs(20 * Math.log10(peak(wav.samples)) - loud) < 0.5,
          'the stem is as loud as the meter said',
        );

        // The module that the page runs, in this browser.
        const module = await page.evaluate(
          () =>
            performance.getEntriesByType('resource').find(({ name }) => name.endsWith('.wasm'))?.name ?? '',
        );
        const sessions = nativeBits(folder, 2);
        const { name, sum } = sessions.at(-1) as (typeof sessions)[number];
        const played = { ...folderToPlay(join(folder, name), 2, 128), module };
        assert.equal(await page.evaluate(playedBits, played), sum);
        assert.deepEqual(faults, []);
      } finally {
        await browser.close();
      }
    }),
  );
});

test('without a sound device Firefox keeps quiet, and the page says so', async () => {
  await inFolder(async (folder) => {
    const browser = await launch(folder);
    try {
      const { page, faults } = await opened(browser);
      await signedUp(page, 'Quiet');
      await press(page, 'Play');
      await page.locator('::-p-text(The browser takes no sound)').wait();
      assert.deepEqual(faults, []);
    } finally {
      await browser.close();
    }
  });
});
