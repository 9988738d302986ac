/** The browser's module outside the browser, with a session folder in it. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav } from './wav.js';

export const root = join(import.meta.dirname, '../..');

export interface Lane {
  memory: WebAssembly.Memory;
  input(bytes: number): number;
  output(): number;
  desk_open(): number;
  desk_engine(fresh: number): number;
  desk_number(): number;
  player_start(sampleRate: number): void;
  player_words(count: number): number;
  player_take(): void;
  player_finish(): void;
  player_incoming(number: number, channels: number, frames: number): number;
  player_piece(frames: number): number;
  player_came(): number;
  player_play(): void;
  player_process(frames: number): number;
  player_exact(): number;
}

interface Folder {
  header: { sample_rate: number };
  assets: { id: string; channels: number }[];
}

/** A player with the session and all its audio, at the start of the song. */
export function openFolder(folder: string): { lane: Lane; rate: number } {
  const module = new WebAssembly.Module(readFileSync(join(root, 'web/src/lib/wasm/lane.wasm')));
  const lane = new WebAssembly.Instance(module, {}).exports as unknown as Lane;
  const give = (...parts: Uint8Array[]) => {
    let at = lane.input(parts.reduce((n, p) => n + p.byteLength, 0));
    for (const part of parts) {
      new Uint8Array(lane.memory.buffer, at, part.byteLength).set(part);
      at += part.byteLength;
    }
  };
  const document = readFileSync(join(folder, 'session.json'));
  const session = JSON.parse(document.toString()) as Folder;
  give(document);
  lane.desk_open();
  const answer = (length: number) => new Uint8Array(lane.memory.buffer, lane.output(), length).slice();
  const words = new Float64Array(answer(lane.desk_engine(1)).buffer);
  lane.player_start(session.header.sample_rate);
  // Making room may move the memory.
  const room = lane.player_words(words.length);
  new Float64Array(lane.memory.buffer, room, words.length).set(words);
  lane.player_take();
  lane.player_finish();
  for (const asset of session.assets) {
    const wav = readWav(readFileSync(join(folder, 'audio', `${asset.id}.wav`)));
    const frames = wav.samples.length / asset.channels;
    give(Buffer.from(JSON.stringify(asset.id)));
    const number: unknown = JSON.parse(Buffer.from(answer(lane.desk_number())).toString());
    lane.player_incoming(Number(number), asset.channels, frames);
    const at = lane.player_piece(frames);
    new Float32Array(lane.memory.buffer, at, wav.samples.length).set(wav.samples);
    if (lane.player_came() !== 1) throw new Error(`the engine did not take ${asset.id}`);
  }
  return { lane, rate: session.header.sample_rate };
}
