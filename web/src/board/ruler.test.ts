import { expect, test } from 'vitest';
import { numbersEvery } from './ruler';

test.each([
  // Wide, as on most screens, narrow; a long song; nothing laid out yet.
  [24, 1032, 1],
  [24, 380, 2],
  [24, 124, 8],
  [400, 380, 32],
  [8, 0, 8],
  [1, 380, 1],
])('%i bars on %i pixels have a number every %i', (bars, width, every) => {
  expect(numbersEvery(bars, width)).toBe(every);
});

test('numbers never touch, and one step finer they would', () => {
  for (const bars of [1, 3, 17, 64, 333, 1000])
    for (let width = 100; width < 2600; width += 37) {
      const every = numbersEvery(bars, width);
      if (every < bars) expect((width / bars) * every).toBeGreaterThanOrEqual(30);
      if (every > 1) expect(((width / bars) * every) / 2).toBeLessThan(30);
    }
});
