// What a picture and a move of a fader cost the page, and whether sound was late meanwhile: the large demo, then with 100
// lanes. Start the demo, then: node bench/screens.mjs [address]. The session of the demo has 100 lanes afterwards.
import { chromium } from 'playwright-core';

const address = process.argv[2] ?? 'http://127.0.0.1:8470';
const browser = await chromium.launch({
  executablePath: process.env.ZL_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--autoplay-policy=no-user-gesture-required'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
// The page keeps its context to itself.
await page.addInitScript(() => {
  const Own = AudioContext;
  globalThis.AudioContext = class extends Own {
    constructor(options) {
      super(options);
      globalThis.context = this;
    }
  };
});
await page.goto(address);
await page.getByRole('button', { name: 'Open the demo' }).click();
await page.getByText('Copper Weather').first().click();
await page.getByRole('button', { name: 'Play' }).first().click();
await page.waitForTimeout(3000);

const cdp = await page.context().newCDPSession(page);
await cdp.send('Performance.enable');
const WORK = ['TaskDuration', 'ScriptDuration', 'RecalcStyleDuration', 'LayoutDuration'];
const read = async () => {
  const { metrics } = await cdp.send('Performance.getMetrics');
  return WORK.map((name) => 1000 * metrics.find((m) => m.name === name).value);
};
const said = (before, after, count) => {
  const [task, script, style, layout] = after.map((ms, n) => ((ms - before[n]) / count).toFixed(1));
  return `${task} ms of the main thread, of which script ${script}, style ${style}, layout ${layout}`;
};
const late = () => page.evaluate(() => globalThis.context?.playbackStats?.underrunEvents);
const pictures = (ms) =>
  page.evaluate(
    (ms) =>
      new Promise((done) => {
        let count = 0;
        const start = performance.now();
        const next = () => {
          count += 1;
          if (performance.now() - start < ms) requestAnimationFrame(next);
          else done(count);
        };
        requestAnimationFrame(next);
      }),
    ms,
  );

async function measure(title) {
  for (const stage of ['Bring in', 'Route', 'Levels', 'Shape']) {
    await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: stage }).click();
    await page.waitForTimeout(1500);
    const before = await read();
    const count = await pictures(4000);
    console.log(
      `${title}, ${stage}: ${(count / 4).toFixed(0)} pictures a second; each ${said(before, await read(), count)}`,
    );
  }
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: 'Levels' }).click();
  const [quiet, rest] = [await late(), await read()];
  await page.waitForTimeout(10_000);
  const resting = (await read()).map((ms, n) => ms - rest[n]);
  console.log(`${title}, underruns in 10 s: ${(await late()) - quiet} at rest`);
  const box = await page.getByRole('spinbutton', { name: 'Fader of Kick', exact: true }).boundingBox();
  const [x, y] = [box.x + 10, box.y + 10];
  await page.mouse.move(x, y);
  await page.mouse.down();
  const [before, start, dragged] = [await read(), Date.now(), await late()];
  let moves = 0;
  while (Date.now() - start < 10_000) {
    moves += 1;
    await page.mouse.move(x, y - 20 + (moves % 40));
  }
  const after = await read();
  await page.mouse.up();
  // What the pictures between cost without a move is no part of it.
  const moving = after.map((ms, n) => ms - resting[n]);
  console.log(
    `${title}, a fader dragged: ${moves / 10} moves a second; each costs, over what playing costs, ${said(before, moving, moves)}`,
  );
  console.log(`${title}, underruns in 10 s: ${(await late()) - dragged} while dragging`);
}

await measure('the large demo');
await page.evaluate(async () => {
  const id = location.pathname.split('/').pop();
  const { document, revision } = await (await fetch(`/api/sessions/${id}`)).json();
  const voices = document.voices.map((v) => v.id);
  const edits = Array.from({ length: 100 - voices.length }, (_, n) => ({
    kind: 'duplicate_voice',
    voice: voices[n % voices.length],
    with_chain: false,
    follows: true,
  }));
  await fetch(`/api/sessions/${id}/edits`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      id: crypto.randomUUID(),
      base_revision: revision,
      edit: { kind: 'batch', edits },
    }),
  });
});
await page.locator('[data-row]').nth(100).waitFor({ state: 'attached' });
await page.waitForTimeout(3000);
// So many come under the heads of their families.
const families = page.getByRole('button', { name: 'families', exact: true });
if ((await families.getAttribute('aria-pressed')) === 'true') await families.click();
await measure('100 lanes');
await browser.close();
