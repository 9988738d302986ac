/**
 * How long blocks of 128 frames take in the browser's module: the heavy session, and each kind of processor by itself.
 *
 *   cargo run -p lane-wasm --example native_bits -- /tmp/bench bench
 *   (cd e2e && npx tsc && node bench/blocks.mjs /tmp/bench)
 *
 * With `--chromium` it runs in a page of Debian's Chromium, else in Node.js, whose engine is the same.
 */
import { join } from 'node:path';
import { launch } from '../build/browser.js';
import { moduleBytes, openEngine, per, readFolder } from './engine.mjs';

const [folder, where] = process.argv.slice(2);
if (!folder) throw new Error('usage: node bench/blocks.mjs FOLDER [--chromium]');
const bytes = [...moduleBytes()];
const { session, assets } = readFolder(join(folder, 'heavy'));
globalThis.openEngine = openEngine;

/** Runs there; knows nothing of what is around it. */
async function measure({ bytes, session, assets, seconds, passes, stopped }) {
  const { lane } = await globalThis.openEngine({ bytes, session, assets });
  const found = [];
  // The least that each block took in any pass: what it takes when nothing else runs.
  const undisturbed = [];
  for (let pass = 0; pass < passes; pass++) {
    lane.player_seek(0);
    if (stopped) lane.player_stop();
    else lane.player_play();
    // Stopped, it has rung out before anything is timed.
    for (let n = 0; stopped && pass === 0 && n < 10000; n++) lane.player_process(128);
    const times = [];
    for (let n = 0; n < (seconds * 48000) / 128; n++) {
      const start = performance.now();
      lane.player_process(128);
      times.push(performance.now() - start);
    }
    times.forEach((time, n) => (undisturbed[n] = Math.min(time, undisturbed[n] ?? Infinity)));
    times.sort((a, b) => a - b);
    const at = (part) => times[Math.min(times.length - 1, Math.floor(part * times.length))];
    found.push({
      mean: times.reduce((sum, time) => sum + time, 0) / times.length,
      least: at(0.02),
      half: at(0.5),
      p99: at(0.99),
      p999: at(0.999),
      worst: times[times.length - 1],
    });
  }
  // The first block begins every sound at once while those of the pass before still fade.
  const [jump, ...rest] = undisturbed;
  return { found, jump, worst: Math.max(...rest) };
}

/** The kinds of processors, as the module describes them. */
async function describe() {
  const { desk, ask } = await openEngine({ bytes, session, assets: [] });
  return ask(desk.desk_kinds);
}

const browser = where === '--chromium' ? await launch() : undefined;
const page = await browser?.newPage();
if (page) {
  // A page that shares memory with nobody gets a clock of 5 microseconds.
  const headers = {
    'Cross-Origin-Opener-Policy': 'same-origin',
    'Cross-Origin-Embedder-Policy': 'require-corp',
  };
  await page.route('http://localhost/', (route) =>
    route.fulfill({ headers, contentType: 'text/html', body: '' }),
  );
  await page.goto('http://localhost/');
}
if (page) await page.evaluate(`globalThis.openEngine = ${openEngine.toString()}`);
const run = (of, seconds, passes, stopped = false, audio = assets) => {
  const samples = page ? audio.map((a) => ({ ...a, samples: [...a.samples] })) : audio;
  const given = { bytes, session: of, assets: samples, seconds, passes, stopped };
  return page ? page.evaluate(measure, given) : measure(given);
};

const heavy = await run(session, 40, 6);
for (const found of heavy.found)
  console.log(
    `heavy: 2 % within ${per(found.least)}, half within ${per(found.half)}, 99 % ${per(found.p99)}, 99.9 % ${per(found.p999)}, worst ${per(found.worst)}`,
  );
console.log(
  `heavy, each block at its least: worst ${per(heavy.worst)}; a jump to the start ${per(heavy.jump)}`,
);

// 20 lanes with 62 processors, of a core.
const many = readFolder(join(folder, '20-32'));
for (const stopped of [false, true]) {
  const { found } = await run(many.session, 10, 4, stopped, many.assets);
  const mean = Math.min(...found.map((pass) => pass.mean));
  console.log(`20 lanes, 62 processors, ${stopped ? 'stopped' : 'playing'}: ${per(mean)} of a core`);
}

// The same without any processor, and with one kind alone on all 16 lanes.
const lanes = session.strips.filter((s) => s.kind === 'channel');
const withChains = (chain) => ({
  ...session,
  strips: session.strips.map((s) => ({ ...s, chain: lanes.includes(s) ? chain(s) : [] })),
});
const least = async (of) => Math.min(...(await run(of, 10, 4)).found.map((found) => found.least));
const bare = await least(withChains(() => []));
console.log(`without processors: ${per(bare)}`);
/** What makes a kind work where its defaults do not. */
const atWork = {
  equaliser: { bands: lanes[0].chain[0].settings.bands },
  transient: { attack_db: 6, sustain_db: -6 },
  enhancer: { low_percent: 40, high_percent: 40 },
  envelope_filter: { amount_oct: 3 },
  utility: { mono_below_hz: 120, width_percent: 130 },
};
const moving = { freq_hz: 320, range_db: -6, threshold_dbfs: -40 };
const kinds = [
  ...(await describe()).map(({ name, default: { kind, ...rest } }) => [
    name,
    { kind, ...rest, ...atWork[kind] },
  ]),
  ['Equaliser, one moving band', { kind: 'equaliser', bands: [moving] }],
];
for (const [name, settings] of kinds) {
  const alone = { ...lanes[0].chain[0], settings };
  const one = await least(withChains((s) => [{ ...alone, id: 10_000 + s.id }]));
  console.log(`${name}: ${((1e6 * (one - bare)) / 128 / lanes.length).toFixed(0)} ns a frame with its meter`);
}
await browser?.close();
