/**
 * What a change costs while a session plays: on the page, and in the audio thread, where the deadline is 2.67 ms.
 *
 *   cargo run -p lane-wasm --example native_bits -- /tmp/bench bench
 *   (cd e2e && npx tsc && node bench/changes.mjs /tmp/bench)
 */
import { openEngine, moduleBytes, per, readFolder } from './engine.mjs';
import { join } from 'node:path';

const [folder] = process.argv.slice(2);
if (!folder) throw new Error('usage: node bench/changes.mjs FOLDER');
const MOVES = 60;
const PASSES = 6;

const middle = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];

/** Times moves of the pointer: there on the page, then the words in the engine, then the blocks until the next move. */
function drag({ desk, lane, ask, words, take }, edit) {
  const [page, message, block] = [[], [], []];
  for (let n = 0; n < MOVES; n++) {
    let start = performance.now();
    const applied = ask(desk.desk_apply, edit(n));
    if (applied.error) throw new Error(applied.error);
    const said = words();
    page.push(performance.now() - start);
    start = performance.now();
    take(said);
    message.push(performance.now() - start);
    for (let k = 0; k < 6; k++) {
      start = performance.now();
      lane.player_process(128);
      block.push(performance.now() - start);
    }
  }
  return { page, message, block };
}

const edits = (session) => {
  const lane = session.voices[0];
  const chain = session.strips.find((s) => s.id === lane.channel).chain;
  const processor = chain.find((p) => p.settings.kind === 'compressor') ?? chain[0];
  return {
    'a fader': (n) => ({
      kind: 'set_strips',
      strips: [lane.channel],
      change: { what: 'fader_db', to: -n / 10 },
    }),
    'a threshold':
      processor &&
      ((n) => ({
        kind: 'set_processor',
        strip: lane.channel,
        processor: processor.id,
        change: { what: 'settings', to: { ...processor.settings, threshold_dbfs: -10 - n / 10 } },
      })),
    'the hits of a lane': (n) => ({
      kind: 'set_hits',
      pattern: session.patterns[0].id,
      voice: lane.id,
      hits: Array.from({ length: 16 }, (_, at) => ({
        at_ticks: 240 * at,
        length_ticks: 200,
        velocity: 1 + ((n + at) % 127),
        tune_st: 0,
      })),
    }),
    'the tempo': (n) => ({ kind: 'set_header', header: { ...session.header, tempo_bpm: 96 + n / 10 } }),
    swing: (n) => ({
      kind: 'set_header',
      header: { ...session.header, swing: { percent: 50 + n / 10, grid: 'sixteenth' } },
    }),
    'a lookahead (structure)':
      processor &&
      ((n) => ({
        kind: 'set_processor',
        strip: lane.channel,
        processor: processor.id,
        change: { what: 'settings', to: { ...processor.settings, lookahead_ms: 1 + n / 10 } },
      })),
  };
};

for (const name of ['24-32', '64-64', '64-256', '300-32']) {
  const given = readFolder(join(folder, name));
  const engine = await openEngine({ bytes: moduleBytes(), ...given });
  engine.lane.player_play();
  for (let n = 0; n < 200; n++) engine.lane.player_process(128);
  for (const [what, edit] of Object.entries(edits(given.session))) {
    if (!edit) continue;
    // The least that each move took in any pass: what it takes when nothing else runs.
    const least = { page: [], message: [], block: [] };
    let worst = 0;
    for (let pass = 0; pass < PASSES; pass++) {
      const found = drag(engine, edit);
      worst = Math.max(worst, ...found.block);
      for (const part of ['page', 'message', 'block'])
        found[part].forEach((ms, n) => (least[part][n] = Math.min(ms, least[part][n] ?? Infinity)));
    }
    console.log(
      `${name}, ${what}: page ${middle(least.page).toFixed(2)} ms, worst ${Math.max(...least.page).toFixed(2)}; ` +
        `audio thread ${per(middle(least.message))}, worst ${per(Math.max(...least.message))}; ` +
        `blocks ${per(middle(least.block))}, worst ${per(Math.max(...least.block))}, as they came ${per(worst)}`,
    );
  }
}

// Three minutes of stereo arriving while it plays.
const engine = await openEngine({ bytes: moduleBytes(), ...readFolder(join(folder, '24-32')) });
engine.lane.player_play();
// What the browser compiles on the way is not meant.
for (let n = 0; n < 3000; n++) engine.lane.player_process(128);
const frames = 180 * 48000;
const pcm = new Float32Array(2 * frames).fill(0.1);
const pieces = [];
let start = performance.now();
for (let whole = 0; whole === 0;) {
  start = performance.now();
  whole = engine.lane.player_room(pcm.byteLength);
  engine.lane.player_process(128);
  pieces.push(performance.now() - start);
}
start = performance.now();
engine.lane.player_incoming(99, 2, frames);
pieces.push(performance.now() - start);
for (let done = 0; done < pcm.length; done += 16384) {
  start = performance.now();
  const piece = pcm.subarray(done, done + 16384);
  const at = engine.lane.player_piece(piece.length / 2);
  new Float32Array(engine.lane.memory.buffer, at, piece.length).set(piece);
  engine.lane.player_came();
  engine.lane.player_process(128);
  pieces.push(performance.now() - start);
}
console.log(
  `180 s of audio arriving, with the block: half within ${per(middle(pieces))}, worst ${per(Math.max(...pieces))}`,
);
