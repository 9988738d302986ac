/** The browser's module with a session folder in it, in Node.js or in a page. */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav } from './wav.js';

export const root = join(import.meta.dirname, '../..');

interface Lane {
  memory: WebAssembly.Memory;
  input(bytes: number): number;
  output(): number;
  desk_open(): number;
  desk_engine(fresh: number): number;
  desk_number(): number;
  player_start(sampleRate: number): void;
  player_words(count: number): number;
  player_take(side: number): void;
  player_finish(side: number): void;
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

/** What is played, as it can be handed to a page. */
export interface Played {
  /** Where the module can be fetched. */
  module: string;
  /** The session's JSON. */
  session: string;
  /** Its audio: 32-bit floats, interleaved, in base64. */
  audio: { id: string; channels: number; base64: string }[];
  rate: number;
  seconds: number;
  /** Frames computed at a time. */
  block: number;
}

/** The module as an address that Node.js can fetch. */
export const MODULE = `data:application/wasm;base64,${readFileSync(join(root, 'web/src/lib/wasm/lane.wasm')).toString('base64')}`;

/** Writes sessions into a folder and plays them with the native core: what each is called there, and its SHA-256. */
export function nativeBits(folder: string, seconds: number): { name: string; sum: string }[] {
  const program = join(root, 'target/debug/examples/native_bits');
  const lines = execFileSync(program, [folder, String(seconds)])
    .toString()
    .trim()
    .split('\n');
  return lines.map((line) => {
    const [name = '', sum = ''] = line.split(' ');
    return { name, sum };
  });
}

/** A session folder, to be played. */
export function folderToPlay(folder: string, seconds: number, block: number): Played {
  const session = readFileSync(join(folder, 'session.json'), 'utf8');
  const { header, assets } = JSON.parse(session) as Folder;
  const audio = assets.map(({ id, channels }) => {
    const { samples } = readWav(readFileSync(join(folder, 'audio', `${id}.wav`)));
    return { id, channels, base64: Buffer.from(new Float32Array(samples).buffer).toString('base64') };
  });
  return { module: MODULE, session, audio, rate: header.sample_rate, seconds, block };
}

/** The SHA-256 of all 64-bit samples of main. Everything it needs is inside, so that a page can run it as well. */
export async function playedBits(played: Played): Promise<string> {
  const code = await (await fetch(played.module)).arrayBuffer();
  const { instance } = await WebAssembly.instantiate(code, {});
  const lane = instance.exports as unknown as Lane;
  const give = (text: string) => {
    const bytes = new TextEncoder().encode(text);
    const at = lane.input(bytes.byteLength);
    new Uint8Array(lane.memory.buffer, at, bytes.byteLength).set(bytes);
  };
  const answer = (length: number) => new Uint8Array(lane.memory.buffer, lane.output(), length).slice();
  give(played.session);
  lane.desk_open();
  const words = new Float64Array(answer(lane.desk_engine(1)).buffer);
  lane.player_start(played.rate);
  // Making room may move the memory.
  const room = lane.player_words(words.length);
  new Float64Array(lane.memory.buffer, room, words.length).set(words);
  lane.player_take(0);
  lane.player_finish(0);
  for (const { id, channels, base64 } of played.audio) {
    const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
    const samples = new Float32Array(bytes.buffer);
    const frames = samples.length / channels;
    give(JSON.stringify(id));
    const number: unknown = JSON.parse(new TextDecoder().decode(answer(lane.desk_number())));
    lane.player_incoming(Number(number), channels, frames);
    const at = lane.player_piece(frames);
    new Float32Array(lane.memory.buffer, at, samples.length).set(samples);
    if (lane.player_came() !== 1) throw new Error(`the engine did not take ${id}`);
  }
  lane.player_play();
  const frames = played.seconds * played.rate;
  const out = new Float64Array(2 * frames);
  for (let done = 0; done < frames; done += played.block) {
    const count = Math.min(played.block, frames - done);
    lane.player_process(count);
    // Both zeros count as one.
    const exact = new Float64Array(lane.memory.buffer, lane.player_exact(), 2 * count).map((x) => x + 0);
    out.set(exact, 2 * done);
  }
  const sum = new Uint8Array(await crypto.subtle.digest('SHA-256', out));
  return [...sum].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
