import { describe, expect, test } from 'vitest';
import { headOf, playedBytes } from './head';

const text = (words: string) => Uint8Array.from(words, (c) => c.charCodeAt(0));
const little = (n: number, bytes: number) =>
  Uint8Array.from({ length: bytes }, (_, at) => (n / 256 ** at) & 255);
const big = (n: number, bytes: number) => little(n, bytes).reverse();
const chunk = (name: string, body: Uint8Array, size = body.length, number = little) => [
  text(name),
  number(size, 4),
  body,
];
const file = (...parts: Uint8Array[]) => new Blob(parts as Uint8Array<ArrayBuffer>[]);

function wav(bits: number, rate: number, data: number, { before = 0, said = data, channels = 1 } = {}) {
  const block = (channels * bits) / 8;
  const format = [
    little(1, 2),
    little(channels, 2),
    little(rate, 4),
    little(rate * block, 4),
    little(block, 2),
  ];
  const bytes = new Uint8Array(joined(format, little(bits, 2)));
  const first = before > 0 ? chunk('bext', new Uint8Array(before)) : [];
  return file(
    text('RIFF'),
    little(0, 4),
    text('WAVE'),
    ...first,
    ...chunk('fmt ', bytes),
    text('data'),
    little(said, 4),
    new Uint8Array(data),
  );
}
const joined = (parts: Uint8Array[], last: Uint8Array) => [...parts, last].flatMap((p) => [...p]);

describe('the beginning of a file', () => {
  test.each([
    [16, 48_000, 1000],
    [24, 96_000, 666],
    [32, 44_100, 500],
  ])('of WAV with %i bits at %i Hz says its frames', async (bits, rate, frames) => {
    const head = await headOf(wav(bits, rate, 2000));
    expect(head).toEqual({ frames, channels: 1, rate });
  });

  test('is found behind descriptions, and whatever sizes say that were never known', async () => {
    expect(await headOf(wav(16, 48_000, 2000, { before: 602 }))).toMatchObject({ frames: 1000 });
    for (const said of [0, 0xffffffff, 0x7fffffff])
      expect(await headOf(wav(16, 48_000, 2000, { said }))).toMatchObject({ frames: 1000 });
    expect(await headOf(wav(16, 48_000, 2000, { channels: 2 }))).toMatchObject({ frames: 500, channels: 2 });
  });

  test('of AIFF and FLAC too', async () => {
    const rate = Uint8Array.of(0x40, 0x0e, 0xbb, 0x80, 0, 0, 0, 0, 0, 0);
    const common = new Uint8Array(joined([big(2, 2), big(96_000, 4), big(16, 2)], rate));
    const aiff = file(text('FORM'), big(0, 4), text('AIFF'), ...chunk('COMM', common, common.length, big));
    expect(await headOf(aiff)).toEqual({ frames: 96_000, channels: 2, rate: 48_000 });
    // 20 bits of rate, 3 of channels less one, 5 of bits less one, 36 of frames.
    const about = Uint8Array.of(0x0b, 0xb8, 0x02, 0xf0, 0, 1, 0x77, 0, 0, 0, 0, 0);
    const flac = file(text('fLaC'), new Uint8Array(14), about);
    expect(await headOf(flac)).toEqual({ frames: 96_000, channels: 2, rate: 48_000 });
  });

  test.each([
    ['words', file(text('not a sound at all'))],
    ['nothing', file()],
    ['no rate', wav(16, 0, 2000)],
    ['a part of a head', wav(16, 48_000, 2000).slice(0, 30)],
    ['no bits', wav(0, 48_000, 2000)],
  ])('of %s says nothing', async (_, of) => expect(await headOf(of)).toBeUndefined());

  test('tells what it takes while it plays', () => {
    const hour = { frames: 96_000 * 3600, channels: 2, rate: 96_000 };
    expect(playedBytes(hour, 48_000)).toBe(48_000 * 3600 * 8);
  });
});
