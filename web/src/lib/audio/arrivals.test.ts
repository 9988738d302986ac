import { expect, test } from 'vitest';
import { Arrivals, PIECE } from './arrivals';

/** An engine that takes audio as ours does. */
function engine() {
  const memory = new WebAssembly.Memory({ initial: 16 });
  const sounds: { number: number; channels: number; samples: number[] }[] = [];
  let wanted = 0;
  let piece = 0;
  const lane = {
    memory,
    player_room: () => 1,
    player_incoming: (number: number, channels: number, frames: number) => {
      sounds.push({ number, channels, samples: [] });
      wanted = frames * channels;
      return 0;
    },
    player_piece: (frames: number) => {
      piece = frames * (sounds.at(-1)?.channels ?? 1);
      return 64;
    },
    player_came: () => {
      const samples = sounds.at(-1)?.samples ?? [];
      samples.push(...new Float32Array(memory.buffer, 64, piece));
      return samples.some((x) => Number.isNaN(x)) ? 2 : samples.length === wanted ? 1 : 0;
    },
  };
  return { lane, sounds };
}

const pcm = (count: number) => Float32Array.from({ length: count }, (_, n) => n % 1000).buffer;

test('sounds come over piece by piece, one after the other, each whole', () => {
  const { lane, sounds } = engine();
  const arrivals = new Arrivals();
  arrivals.push({ number: 4, channels: 2, pcm: pcm(2 * PIECE + 10) });
  arrivals.push({ number: 7, channels: 1, pcm: pcm(5) });
  const whole: boolean[] = [];
  while (!arrivals.isEmpty) whole.push(arrivals.move(lane));
  expect(whole).toEqual([false, false, true, true]);
  expect(sounds.map(({ number, samples }) => [number, samples.length])).toEqual([
    [4, 2 * PIECE + 10],
    [7, 5],
  ]);
  expect(sounds[0]?.samples[PIECE + 3]).toBe((PIECE + 3) % 1000);
});

test('what is no audio is let go of, and what comes after it goes on', () => {
  const { lane, sounds } = engine();
  const arrivals = new Arrivals();
  arrivals.push({ number: 1, channels: 1, pcm: new Float32Array([1, Number.NaN]).buffer });
  arrivals.push({ number: 2, channels: 1, pcm: pcm(3) });
  expect([arrivals.move(lane), arrivals.move(lane), arrivals.isEmpty]).toEqual([false, true, true]);
  expect(sounds.at(-1)?.samples).toEqual([0, 1, 2]);
});

test('an engine that begins anew forgets what was on its way', () => {
  const { lane } = engine();
  const arrivals = new Arrivals();
  arrivals.push({ number: 1, channels: 1, pcm: pcm(3 * PIECE) });
  arrivals.move(lane);
  arrivals.clear();
  expect([arrivals.isEmpty, arrivals.move(lane)]).toEqual([true, false]);
});

test('room is made before anything comes', () => {
  const { lane, sounds } = engine();
  let calls = 0;
  const slow = { ...lane, player_room: () => (++calls < 4 ? 0 : 1) };
  const arrivals = new Arrivals();
  arrivals.push({ number: 1, channels: 1, pcm: pcm(3) });
  const moved = [1, 2, 3].map(() => arrivals.move(slow));
  expect([moved, sounds.length, arrivals.isEmpty]).toEqual([[false, false, false], 0, false]);
  expect([arrivals.move(slow), sounds.length]).toEqual([true, 1]);
});
