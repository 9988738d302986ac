import { expect, test } from 'vitest';
import { MeterBoard } from './meters.svelte';

// Node has no screen; what draws is not asked here.
Object.assign(globalThis, {
  matchMedia: () => ({ addEventListener: () => undefined }),
  addEventListener: () => undefined,
});

/** A message of main alone: the same sample peak at its three stations. */
const message = (peak: number) =>
  Float32Array.from([0, 1, 2].flatMap(() => [peak, peak, peak / 2, peak / 2]));

function board(): MeterBoard {
  const meters = new MeterBoard();
  meters.setLayout([{ strip: 1, processors: [] }]);
  return meters;
}

test('the row of main holds the true peak that the header says', () => {
  const meters = board();
  meters.take(message(0.5), -14, 0.6);
  meters.take(message(0.2), -14, 0.4);
  expect(meters.level(1, 'out').held).toBe(0.6);
  expect(meters.truePeak).toBe(0.6);
  expect(meters.level(1, 'source').held).toBeCloseTo(0.5);
});

test('playing anew lets go of held peaks and keeps overload lights', () => {
  const meters = board();
  meters.take(message(1.5), -3, 1.6);
  meters.restart();
  expect(meters.level(1, 'out')).toMatchObject({ held: 0, highest: 1.5 });
  expect(meters.truePeak).toBe(0);
});

test('clearing peaks puts out the lights as well', () => {
  const meters = board();
  meters.take(message(1.5), -3, 1.6);
  meters.clearPeaks();
  expect(meters.level(1, 'out')).toMatchObject({ held: 0, highest: 0 });
});

test('a bar falls like a needle', () => {
  const meters = board();
  meters.take(message(1), -3, 1);
  for (let n = 0; n < 12; n++) meters.take(message(0), -3, 0);
  const [left] = meters.level(1, 'out').peak;
  expect(20 * Math.log10(left)).toBeCloseTo(-6);
});

test('a station that is not there is silent', () => {
  expect(board().level(7, 'out')).toMatchObject({ peak: [0, 0], held: 0 });
});
