/** The browser's module gives the same samples as the native core, bit for bit. */
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { openFolder, root } from './lane.js';

const SECONDS = 6;

function browserBits(folder: string, block: number): string {
  const { lane, rate } = openFolder(folder);
  lane.player_play();
  const sum = createHash('sha256');
  const frames = SECONDS * rate;
  for (let done = 0; done < frames; done += block) {
    const count = Math.min(block, frames - done);
    lane.player_process(count);
    // Both zeros count as one.
    const exact = new Float64Array(lane.memory.buffer, lane.player_exact(), 2 * count).map((x) => x + 0);
    sum.update(new Uint8Array(exact.buffer));
  }
  return sum.digest('hex');
}

test('native and browser give the same bits: frozen sessions, every kind of processor, every rate', () => {
  const folder = mkdtempSync(join(tmpdir(), 'bits-'));
  try {
    const program = join(root, 'target/debug/examples/native_bits');
    const sums = execFileSync(program, [folder, String(SECONDS)])
      .toString()
      .trim()
      .split('\n');
    assert.equal(sums.length, 8);
    for (const line of sums) {
      const [name = '', native] = line.split(' ');
      for (const block of [128, 100])
        assert.equal(browserBits(join(folder, name), block), native, `session ${name}, blocks of ${block}`);
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
});
