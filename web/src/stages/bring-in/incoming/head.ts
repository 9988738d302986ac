/** What the beginning of a file says of its length, so that what is too much is told before it is sent. */

/** Bytes of a beginning that are looked at; descriptions in front of the samples may be long. */
const HEAD_BYTES = 1 << 16;

/** What is known of a sound before it is sent. */
export interface Head {
  frames: number;
  channels: number;
  rate: number;
}

/** What a file says it is, by what stands at its beginning; nothing where it does not say, or says nonsense. */
export async function headOf(file: Blob): Promise<Head | undefined> {
  const view = new DataView(await file.slice(0, HEAD_BYTES).arrayBuffer());
  const name = textAt(view, 0);
  const found =
    name === 'RIFF' || name === 'RF64' || name === 'BW64'
      ? ofWav(view, file.size)
      : name === 'FORM'
        ? ofAiff(view)
        : name === 'fLaC'
          ? ofFlac(view)
          : undefined;
  const sane = found && found.rate >= 4000 && found.rate <= 384_000 && found.channels > 0 && found.frames > 0;
  return sane ? found : undefined;
}

/** Bytes that it takes while it plays at a rate: samples of 32 bits. */
export const playedBytes = ({ frames, channels, rate }: Head, at: number): number =>
  Math.round((frames * channels * 4 * at) / rate);

const textAt = (view: DataView, at: number): string =>
  view.byteLength >= at + 4 ? String.fromCharCode(...[0, 1, 2, 3].map((n) => view.getUint8(at + n))) : '';

/** Chunks of a name and a size each, from a place on. */
function* chunks(view: DataView, from: number, little: boolean) {
  for (let at = from; at + 8 <= view.byteLength;) {
    const size = view.getUint32(at + 4, little);
    yield { name: textAt(view, at), at: at + 8, size };
    at += 8 + size + (size % 2);
  }
}

function ofWav(view: DataView, bytes: number): Head | undefined {
  let frame: { bytes: number; channels: number; rate: number } | undefined;
  for (const { name, at, size } of chunks(view, 12, true)) {
    if (name === 'fmt ' && !frame && at + 16 <= view.byteLength) {
      const [channels, rate, block] = [
        view.getUint16(at + 2, true),
        view.getUint32(at + 4, true),
        view.getUint16(at + 12, true),
      ];
      frame = { bytes: block, channels, rate };
    }
    if (name === 'data') {
      if (!frame || frame.bytes === 0) return undefined;
      const there = Math.max(0, bytes - at);
      const held = size === 0 ? there : Math.min(size, there);
      return { frames: Math.floor(held / frame.bytes), channels: frame.channels, rate: frame.rate };
    }
  }
  return undefined;
}

function ofAiff(view: DataView): Head | undefined {
  for (const { name, at } of chunks(view, 12, false)) {
    if (name !== 'COMM' || at + 18 > view.byteLength) continue;
    // 80 bits: an exponent, and a whole part of 64 bits of which the upper 32 say all that a rate needs.
    const exponent = (view.getUint16(at + 8) & 0x7fff) - 16_383;
    const rate = view.getUint32(at + 10) * 2 ** (exponent - 31);
    return { frames: view.getUint32(at + 2), channels: view.getUint16(at), rate };
  }
  return undefined;
}

function ofFlac(view: DataView): Head | undefined {
  if (view.byteLength < 26) return undefined;
  const rate = view.getUint32(18) >>> 12;
  const channels = ((view.getUint8(20) >> 1) & 7) + 1;
  const frames = (view.getUint8(21) & 15) * 2 ** 32 + view.getUint32(22);
  return { frames, channels, rate };
}
