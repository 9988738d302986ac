/**
 * How long blocks of 128 frames take in the browser's module: the heavy session, and each kind of processor by itself.
 *
 *   cargo run -p lane-wasm --example native_bits -- /tmp/heavy heavy
 *   (cd e2e && npx tsc && node bench/blocks.mjs /tmp/heavy/heavy)
 *
 * With `--chromium` it runs in a page of Debian's Chromium, else in Node.js, whose engine is the same.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { launch } from '../build/browser.js';
import { root } from '../build/lane.js';
import { readWav } from '../build/wav.js';

const [folder, where] = process.argv.slice(2);
if (!folder) throw new Error('usage: node bench/blocks.mjs FOLDER [--chromium]');
const module = readFileSync(join(root, 'web/src/lib/wasm/lane.wasm'));
const session = JSON.parse(readFileSync(join(folder, 'session.json')).toString());
const assets = session.assets.map((asset) => {
  const wav = readWav(readFileSync(join(folder, 'audio', `${asset.id}.wav`)));
  return { id: asset.id, channels: asset.channels, samples: [...wav.samples] };
});

/** Runs there; knows nothing of what is around it. */
async function measure({ bytes, session, assets, seconds, passes }) {
  const { instance } = await WebAssembly.instantiate(Uint8Array.from(bytes), {});
  const lane = instance.exports;
  const encoder = new TextEncoder();
  const give = (...parts) => {
    let at = lane.input(parts.reduce((n, p) => n + p.byteLength, 0));
    for (const part of parts) {
      new Uint8Array(lane.memory.buffer, at, part.byteLength).set(part);
      at += part.byteLength;
    }
  };
  give(encoder.encode(JSON.stringify(session)));
  lane.player_open();
  for (const { id, channels, samples } of assets) {
    give(encoder.encode(id), new Uint8Array(Float32Array.from(samples).buffer));
    lane.player_asset(channels);
  }
  const found = [];
  // The least that each block took in any pass: what it takes when nothing else runs.
  const undisturbed = [];
  for (let pass = 0; pass < passes; pass++) {
    lane.player_seek(0);
    lane.player_play();
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
function describe() {
  const lane = new WebAssembly.Instance(new WebAssembly.Module(module), {}).exports;
  const length = lane.desk_kinds();
  return JSON.parse(new TextDecoder().decode(new Uint8Array(lane.memory.buffer, lane.output(), length)));
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
const run = (of, seconds, passes) => {
  const given = { bytes: [...module], session: of, assets, seconds, passes };
  return page ? page.evaluate(measure, given) : measure(given);
};

const deadline = (128 / 48000) * 1000;
const per = (ms) => `${ms.toFixed(3)} ms (${((100 * ms) / deadline).toFixed(0)} %)`;
const heavy = await run(session, 40, 6);
for (const found of heavy.found)
  console.log(
    `heavy: 2 % within ${per(found.least)}, half within ${per(found.half)}, 99 % ${per(found.p99)}, 99.9 % ${per(found.p999)}, worst ${per(found.worst)}`,
  );
console.log(
  `heavy, each block at its least: worst ${per(heavy.worst)}; a jump to the start ${per(heavy.jump)}`,
);

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
  ...describe().map(({ name, default: { kind, ...rest } }) => [name, { kind, ...rest, ...atWork[kind] }]),
  ['Equaliser, one moving band', { kind: 'equaliser', bands: [moving] }],
];
for (const [name, settings] of kinds) {
  const alone = { ...lanes[0].chain[0], settings };
  const one = await least(withChains((s) => [{ ...alone, id: 10_000 + s.id }]));
  console.log(`${name}: ${((1e6 * (one - bare)) / 128 / lanes.length).toFixed(0)} ns a frame with its meter`);
}
await browser?.close();
