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

/** A mono 16-bit file. */
export function monoWav(samples: Float64Array, rate: number): Buffer {
  const out = Buffer.alloc(44 + samples.length * 2);
  out.write('RIFF', 0, 'latin1');
  out.writeUInt32LE(36 + samples.length * 2, 4);
  out.write('WAVEfmt ', 8, 'latin1');
  out.writeUInt32LE(16, 16);
  out.writeUInt16LE(1, 20);
  out.writeUInt16LE(1, 22);
  out.writeUInt32LE(rate, 24);
  out.writeUInt32LE(rate * 2, 28);
  out.writeUInt16LE(2, 32);
  out.writeUInt16LE(16, 34);
  out.write('data', 36, 'latin1');
  out.writeUInt32LE(samples.length * 2, 40);
  samples.forEach((x, n) => out.writeInt16LE(Math.round(Math.max(-1, Math.min(1, x)) * 32_767), 44 + n * 2));
  return out;
}

/** A decaying tone. */
export function tone(hz: number, seconds: number, rate = 44_100): Buffer {
  const frames = Math.round(seconds * rate);
  const sample = (_: unknown, n: number) =>
    0.6 * Math.sin((2 * Math.PI * hz * n) / rate) * Math.exp((-3 * n) / frames);
  return monoWav(Float64Array.from({ length: frames }, sample), rate);
}

/** A drum loop at a tempo, of whole bars: low hits on some sixteenths, bright ones on others. */
export function drumLoop(bpm: number, bars: number, low: number[], bright: number[], rate = 48_000): Buffer {
  const sixteenth = (rate * 60) / bpm / 4;
  const out = new Float64Array(Math.round(sixteenth * 16 * bars));
  let noise = 1;
  const put = (step: number, sound: (n: number) => number) => {
    const from = Math.round(step * sixteenth);
    for (let n = 0; n < 0.12 * rate && from + n < out.length; n += 1) out[from + n]! += sound(n);
  };
  for (const step of low)
    put(step, (n) => 0.8 * Math.sin((2 * Math.PI * 60 * n) / rate) * Math.exp((-30 * n) / rate));
  for (const step of bright)
    put(step, (n) => {
      noise = (noise * 16807) % 2147483647;
      return 0.4 * ((noise / 2147483647) * 2 - 1) * Math.exp((-90 * n) / rate);
    });
  return monoWav(out, rate);
}

export const peak = (samples: Float64Array): number =>
  samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);

/** The file with a Broadcast Wave chunk that says where it starts, in frames since midnight. */
export function withTimeReference(wav: Buffer, frames: number): Buffer {
  const chunk = Buffer.alloc(8 + 602);
  chunk.write('bext', 0, 'latin1');
  chunk.writeUInt32LE(602, 4);
  chunk.writeBigUInt64LE(BigInt(frames), 8 + 338);
  const out = Buffer.concat([wav.subarray(0, 36), chunk, wav.subarray(36)]);
  out.writeUInt32LE(out.length - 8, 4);
  return out;
}
