/** The browser's module outside the browser, with a session folder in it. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav } from './wav.js';

export const root = join(import.meta.dirname, '../..');

export interface Lane {
  memory: WebAssembly.Memory;
  input(bytes: number): number;
  output(): number;
  player_open(): number;
  player_asset(channels: number): number;
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
  lane.player_open();
  for (const asset of session.assets) {
    const wav = readWav(readFileSync(join(folder, 'audio', `${asset.id}.wav`)));
    give(Buffer.from(asset.id), new Uint8Array(Float32Array.from(wav.samples).buffer));
    lane.player_asset(asset.channels);
  }
  return { lane, rate: session.header.sample_rate };
}
