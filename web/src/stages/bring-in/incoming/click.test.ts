import { expect, test } from 'vitest';
import { clickFile } from './click';

test('the click is loud at once, falls, and is the same every time', async () => {
  const [first, second] = await Promise.all([clickFile(), clickFile()].map((file) => file.arrayBuffer()));
  expect(new Uint8Array(first as ArrayBuffer)).toEqual(new Uint8Array(second as ArrayBuffer));
  const view = new DataView(first as ArrayBuffer);
  const [riff, bytes] = [view.getUint32(4, true), view.getUint32(40, true)];
  expect([riff + 8, bytes + 44]).toEqual([view.byteLength, view.byteLength]);
  const level = (from: number, to: number) => {
    let most = 0;
    for (let n = from; n < to; n += 1)
      most = Math.max(most, Math.abs(view.getInt16(44 + 2 * n, true)) / 32_767);
    return most;
  };
  const frames = bytes / 2;
  expect(level(0, 1)).toBeCloseTo(0.9, 3);
  expect(level(frames - 48, frames)).toBeLessThan(0.04);
});
