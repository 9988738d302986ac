/** The browser's module gives the same samples as the native core, bit for bit. */
import assert from 'node:assert/strict';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { folderToPlay, nativeBits, playedBits } from './lane.js';

const SECONDS = 6;

test('native and browser give the same bits: frozen sessions, every kind of processor, every rate', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'bits-'));
  try {
    const sums = nativeBits(folder, SECONDS);
    assert.equal(sums.length, 8);
    for (const [at, { name, sum }] of sums.entries())
      // Pieces of another size than the worklet's for the first and the last; natively any sizes are tried.
      for (const block of at % (sums.length - 1) === 0 ? [128, 100] : [128])
        assert.equal(
          await playedBits(folderToPlay(join(folder, name), SECONDS, block)),
          sum,
          `session ${name}, blocks of ${block}`,
        );
  } finally {
    rmSync(folder, { recursive: true });
  }
});
