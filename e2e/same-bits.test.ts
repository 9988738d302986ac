/** The browser's module gives the same samples as the native core, bit for bit. */
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { readWav } from './wav.js';

const root = join(import.meta.dirname, '../..');
const SECONDS = 20;
const FRAMES = 48_000 * SECONDS;

interface Lane {
  memory: WebAssembly.Memory;
  input(bytes: number): number;
  output(): number;
  player_open(): number;
  player_asset(channels: number): number;
  player_play(): void;
  player_process(frames: number): number;
  player_exact(): number;
}

function browserBits(folder: string, block: number): string {
  const module = new WebAssembly.Module(readFileSync(join(root, 'web/src/lib/wasm/lane.wasm')));
  const lane = new WebAssembly.Instance(module, {}).exports as unknown as Lane;
  const give = (...parts: Uint8Array[]) => {
    let at = lane.input(parts.reduce((n, p) => n + p.byteLength, 0));
    for (const part of parts) {
      new Uint8Array(lane.memory.buffer, at, part.byteLength).set(part);
      at += part.byteLength;
    }
  };
  give(readFileSync(join(folder, 'session.json')));
  lane.player_open();
  for (const name of readdirSync(join(folder, 'audio'))) {
    const wav = readWav(readFileSync(join(folder, 'audio', name)));
    give(Buffer.from(name.replace('.wav', '')), new Uint8Array(Float32Array.from(wav.samples).buffer));
    lane.player_asset(wav.channels);
  }
  lane.player_play();
  const sum = createHash('sha256');
  for (let done = 0; done < FRAMES; done += block) {
    lane.player_process(Math.min(block, FRAMES - done));
    sum.update(new Uint8Array(lane.memory.buffer, lane.player_exact(), Math.min(block, FRAMES - done) * 16));
  }
  return sum.digest('hex');
}

test('native and browser give the same bits, for blocks of 128 and of 100', () => {
  const folder = mkdtempSync(join(tmpdir(), 'bits-'));
  try {
    const program = join(root, 'target/debug/zealous-lane');
    execFileSync(program, ['demo', '--export', folder]);
    for (const session of readdirSync(folder)) {
      const at = join(folder, session);
      const native = execFileSync(join(root, 'target/debug/examples/native_bits'), [at, String(FRAMES)])
        .toString()
        .trim();
      assert.equal(browserBits(at, 128), native, `${session}, blocks of 128`);
      assert.equal(browserBits(at, 100), native, `${session}, blocks of 100`);
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
});
