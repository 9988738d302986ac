/** A small reader and writer of WAV, independent of the program's. */

export interface Wav {
  channels: number;
  rate: number;
  bits: number;
  /** Interleaved, full scale at 1. */
  samples: Float64Array;
}

export function readWav(bytes: Buffer): Wav {
  if (bytes.toString('latin1', 0, 4) !== 'RIFF' || bytes.toString('latin1', 8, 12) !== 'WAVE')
    throw new Error('no WAV file');
  if (bytes.readUInt32LE(4) !== bytes.length - 8) throw new Error('the outer size is wrong');
  let at = 12;
  let format: { tag: number; channels: number; rate: number; bits: number } | undefined;
  while (at + 8 <= bytes.length) {
    const name = bytes.toString('latin1', at, at + 4);
    const size = bytes.readUInt32LE(at + 4);
    const data = at + 8;
    if (name === 'fmt ')
      format = {
        tag: bytes.readUInt16LE(data),
        channels: bytes.readUInt16LE(data + 2),
        rate: bytes.readUInt32LE(data + 4),
        bits: bytes.readUInt16LE(data + 14),
      };
    if (name === 'data' && format) {
      const { tag, channels, rate, bits } = format;
      const count = size / (bits / 8);
      const samples = new Float64Array(count);
      for (let n = 0; n < count; n += 1) {
        if (tag === 1 && bits === 24) samples[n] = bytes.readIntLE(data + n * 3, 3) / 2 ** 23;
        else if (tag === 3 && bits === 32) samples[n] = bytes.readFloatLE(data + n * 4);
        else throw new Error(`format ${tag} with ${bits} bits`);
      }
      return { channels, rate, bits, samples };
    }
    at = data + size + (size % 2);
  }
  throw new Error('no samples');
}

/** A mono 16-bit file of a decaying tone. */
export function tone(hz: number, seconds: number, rate = 44_100): Buffer {
  const frames = Math.round(seconds * rate);
  const out = Buffer.alloc(44 + frames * 2);
  out.write('RIFF', 0, 'latin1');
  out.writeUInt32LE(36 + frames * 2, 4);
  out.write('WAVEfmt ', 8, 'latin1');
  out.writeUInt32LE(16, 16);
  out.writeUInt16LE(1, 20);
  out.writeUInt16LE(1, 22);
  out.writeUInt32LE(rate, 24);
  out.writeUInt32LE(rate * 2, 28);
  out.writeUInt16LE(2, 32);
  out.writeUInt16LE(16, 34);
  out.write('data', 36, 'latin1');
  out.writeUInt32LE(frames * 2, 40);
  for (let n = 0; n < frames; n += 1) {
    const x = 0.6 * Math.sin((2 * Math.PI * hz * n) / rate) * Math.exp((-3 * n) / frames);
    out.writeInt16LE(Math.round(x * 32_767), 44 + n * 2);
  }
  return out;
}

export const peak = (samples: Float64Array): number =>
  samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
