/** The real program in Debian's Chromium. The address comes from the script that started it. */
import { chromium, type Browser, type Page } from 'playwright-core';
import { tone } from './wav.js';

export const ADDRESS = process.env['ZL_ADDRESS'] ?? 'http://127.0.0.1:8470';

/** A browser with its usual rule that a page sounds only after a click. */
export function launch(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env['ZL_CHROMIUM'] ?? '/usr/bin/chromium',
    headless: true,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  });
}

/** A page whose faults fail the test. */
export async function open(browser: Browser, path = '/'): Promise<{ page: Page; faults: string[] }> {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
  });
  const page = await context.newPage();
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.message));
  page.setDefaultTimeout(60_000);
  // Levels in journeys are those of the files, unless a journey is about what happens to them.
  await page.addInitScript(() => {
    const trims = 'trim what comes in';
    if (localStorage.getItem(trims) === null) localStorage.setItem(trims, 'off');
  });
  await page.goto(ADDRESS + path);
  return { page, faults };
}

let accounts = 0;

/** Signs up with an account of its own and opens a new session. */
export async function freshSession(
  browser: Browser,
  title: string,
  rate?: string,
): Promise<{ page: Page; faults: string[] }> {
  const opened = await open(browser);
  const { page } = opened;
  accounts += 1;
  await page.getByRole('button', { name: 'Make an account' }).click();
  await page.getByLabel('E-mail address').fill(`mixer${process.pid}-${accounts}@example.invalid`);
  await page.getByLabel(/^Password/).fill('a password for tests');
  await page.getByRole('button', { name: 'Sign up' }).click();
  await page.getByLabel('Title').fill(title);
  if (rate) await page.getByLabel('Sample rate').selectOption({ label: rate });
  await page.getByRole('button', { name: 'New session' }).click();
  await page.getByRole('navigation', { name: 'Stages' }).waitFor();
  return opened;
}

/** A row of the board by the name that stands in it. */
export const row = (page: Page, name: string) => page.locator(`[data-row="${name}"]`);

export const stage = (page: Page, name: string) =>
  page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name }).click();

/** The level that a meter says, in dBFS; null where it says silent. */
export async function level(page: Page, name: string, station = 'out'): Promise<number | null> {
  const text = await row(page, name)
    .locator(`[data-station=${station}]`)
    .last()
    .getAttribute('aria-valuetext');
  return text && text !== 'silent' ? Number.parseFloat(text) : null;
}

/** Waits until a condition on something that is read holds. */
export async function until<T>(
  read: () => Promise<T>,
  holds: (value: T) => boolean,
  what: string,
): Promise<T> {
  const end = Date.now() + 60_000;
  for (;;) {
    const value = await read();
    if (holds(value)) return value;
    if (Date.now() > end) throw new Error(`${what}: still ${JSON.stringify(value)}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/** Drops files on the page as a person's file manager would. */
export async function drop(
  page: Page,
  files: { name: string; bytes: Buffer }[],
  onto = 'main',
): Promise<void> {
  const transfer = await page.evaluateHandle(
    (list) => {
      const data = new DataTransfer();
      for (const { name, base64 } of list) {
        const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
        data.items.add(new File([bytes], name));
      }
      return data;
    },
    files.map((f) => ({ name: f.name, base64: f.bytes.toString('base64') })),
  );
  await page.dispatchEvent(onto, 'drop', { dataTransfer: transfer });
}

/** Chooses a row of the board. */
export const chosen = (page: Page, name: string) => row(page, name).click({ position: { x: 60, y: 10 } });

/** A new session with Kick, Snare, Clap and Sub bass on every beat, at the stage Route. */
export async function beat(browser: Browser, title: string): Promise<{ page: Page; faults: string[] }> {
  const opened = await freshSession(browser, title);
  const { page } = opened;
  await drop(page, [
    { name: 'kick.wav', bytes: tone(55, 0.3) },
    { name: 'snare.wav', bytes: tone(200, 0.2) },
    { name: 'clap.wav', bytes: tone(900, 0.2) },
    { name: 'sub bass.wav', bytes: tone(50, 0.6) },
  ]);
  await row(page, 'Sub bass').waitFor();
  await page.getByRole('tab', { name: 'Pattern' }).click();
  for (const name of ['Kick', 'Snare', 'Clap', 'Sub bass']) {
    await chosen(page, name);
    await page.getByRole('button', { name: 'Every beat' }).click();
  }
  await stage(page, 'Route');
  return opened;
}

/** Types a value into a field. */
export const typed = async (page: Page, label: string, value: string) => {
  await page.getByRole('spinbutton', { name: label, exact: true }).focus();
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
};

/** Picks an action of a menu. */
export async function act(page: Page, menu: string, item: string): Promise<void> {
  await page.getByRole('button', { name: menu, exact: true }).click();
  await page.getByRole('menuitem', { name: item, exact: true }).click();
}

/** Adds a processor of a kind at the end of the chosen row's chain, at the stage Shape. */
export const addProcessor = (page: Page, kind: string) => act(page, 'Add a processor', kind);

const outputCell = (page: Page, name: string) =>
  page.getByRole('button', { name: new RegExp(`^${name} goes to `) });

/** Where a row goes, as its cell in Route says. */
export const goesTo = async (page: Page, name: string) =>
  (await outputCell(page, name).textContent())?.trim();

/** Sends a row somewhere else by its cell in Route. */
export async function sendTo(page: Page, name: string, to: string): Promise<void> {
  await outputCell(page, name).click();
  await page.getByRole('menuitemradio', { name: to, exact: true }).click();
}
