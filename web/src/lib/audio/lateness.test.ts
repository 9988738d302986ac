import { describe, expect, test } from 'vitest';
import { Lateness } from './lateness';

/** Looks every 250 ms, in each of which sound falls behind by so many ms. */
function watch(behind: number[], jitter = () => 0) {
  const lateness = new Lateness();
  let [sound, at] = [1, 1000];
  const late = behind.map((ms) => {
    at += 250;
    sound += (250 - ms) / 1000;
    const time = { contextTime: sound + jitter(), performanceTime: at };
    return lateness.look({ getOutputTimestamp: () => time });
  });
  return { late, strained: (after = 0) => lateness.strained(at + after) };
}

describe('sound that breaks', () => {
  test('is noticed by how far it falls behind', () => {
    expect(watch([0, 0, 40, 0, 20, 0]).late).toEqual([false, false, true, false, true, false]);
  });

  test('is what the browser counts, where it does', () => {
    const lateness = new Lateness();
    let at = 1000;
    const look = (underrunEvents: number) => {
      at += 250;
      const time = { contextTime: at / 1000, performanceTime: at };
      return lateness.look({ getOutputTimestamp: () => time, playbackStats: { underrunEvents } });
    };
    // What broke before it was looked at is no matter.
    expect([7, 7, 8, 8, 11, 12].map(look)).toEqual([false, false, true, false, true, true]);
    expect(lateness.strained(at)).toBe(true);
  });

  test('is not what clocks differ by, nor how roughly they are told', () => {
    expect(watch(Array(400).fill(0.05)).late).not.toContain(true);
    let n = 0;
    const jitter = () => [0.004, -0.004, 0][(n += 1) % 3] as number;
    expect(watch(Array(100).fill(0), jitter).late).not.toContain(true);
  });

  test('again and again is said, and for ten seconds after the first of them', () => {
    expect(watch([0, 40, 40]).strained()).toBe(false);
    const { strained } = watch([0, 40, 40, 40]);
    expect([strained(), strained(9000), strained(10_000)]).toEqual([true, true, false]);
    // Once in a while is not again and again.
    expect(watch([0, 40, ...Array(60).fill(0), 40, ...Array(60).fill(0), 40]).strained()).toBe(false);
  });

  test('is not taken from what lies between a sleep and waking up, stopping and starting', () => {
    const lateness = new Lateness();
    const look = (contextTime: number, performanceTime: number) =>
      lateness.look({ getOutputTimestamp: () => ({ contextTime, performanceTime }) });
    look(1, 1000);
    expect(look(1.1, 3_601_000)).toBe(false);
    look(1.35, 3_601_250);
    lateness.forget();
    expect(look(1.35, 3_603_250)).toBe(false);
    expect(look(0, 3_603_500)).toBe(false);
    expect(look(0.1, 3_603_750)).toBe(false);
    expect(lateness.look({ getOutputTimestamp: () => ({}) })).toBe(false);
  });
});
