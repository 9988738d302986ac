/** What the benchmarks of the browser's module share: a session folder in the module, and what its calls take. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from '../build/lane.js';
import { readWav } from '../build/wav.js';

export const deadline = (128 / 48000) * 1000;
export const per = (ms) => `${ms.toFixed(3)} ms (${((100 * ms) / deadline).toFixed(1)} %)`;

/** A session and its audio, from a folder. */
export function readFolder(folder) {
  const session = JSON.parse(readFileSync(join(folder, 'session.json')).toString());
  const assets = session.assets.map((asset) => {
    const wav = readWav(readFileSync(join(folder, 'audio', `${asset.id}.wav`)));
    return { id: asset.id, channels: asset.channels, samples: wav.samples };
  });
  return { session, assets };
}

export const moduleBytes = () => readFileSync(join(root, 'web/src/lib/wasm/lane.wasm'));

/** Page and worklet on one module each; runs in Node.js and in a page, and knows nothing of what is around it. */
export async function openEngine({ bytes, session, assets }) {
  const module = await WebAssembly.compile(Uint8Array.from(bytes));
  const [desk, lane] = await Promise.all(
    [0, 1].map(async () => (await WebAssembly.instantiate(module, {})).exports),
  );
  const encoder = new TextEncoder();
  const decoder = new TextDecoder();
  const tell = (value) => {
    const bytes = encoder.encode(JSON.stringify(value));
    // Making room may move the memory.
    const at = desk.input(bytes.length);
    new Uint8Array(desk.memory.buffer, at, bytes.length).set(bytes);
  };
  const answer = (length) => new Uint8Array(desk.memory.buffer, desk.output(), length).slice();
  const ask = (call, value) => {
    if (value !== undefined) tell(value);
    return JSON.parse(decoder.decode(answer(call())));
  };
  /** Words of what is new on the desk. */
  const words = (fresh = 0) => new Float64Array(answer(desk.desk_engine(fresh)).buffer);
  /** Gives words to the engine, as the worklet does. */
  const take = (words) => {
    const at = lane.player_words(words.length);
    new Float64Array(lane.memory.buffer, at, words.length).set(words);
    lane.player_take(0);
  };
  ask(desk.desk_open, session);
  lane.player_start(session.header.sample_rate);
  take(words(1));
  lane.player_finish(0);
  for (const { id, channels, samples } of assets) {
    const number = ask(desk.desk_number, id);
    const frames = samples.length / channels;
    lane.player_incoming(number, channels, frames);
    const at = lane.player_piece(frames);
    new Float32Array(lane.memory.buffer, at, samples.length).set(samples);
    lane.player_came();
  }
  return { desk, lane, ask, words, take };
}
