/** Small MIDI files, written by hand. */

export interface MidiNote {
  /** Ticks of 96 a quarter. */
  at: number;
  key: number;
  /** Counted from 1. */
  channel: number;
}

const number = (value: number): number[] => (value < 128 ? [value] : [0x80 | (value >> 7), value & 127]);

/** A file of one track; every note is a sixteenth long. */
export function midiFile(notes: MidiNote[]): Buffer {
  const events = notes
    .flatMap(({ at, key, channel }) => [
      { at, bytes: [0x90 | (channel - 1), key, 100] },
      { at: at + 24, bytes: [0x80 | (channel - 1), key, 0] },
    ])
    .sort((a, b) => a.at - b.at);
  const body: number[] = [];
  let now = 0;
  for (const { at, bytes } of events) {
    body.push(...number(at - now), ...bytes);
    now = at;
  }
  body.push(0, 0xff, 0x2f, 0);
  const head = Buffer.from('MThd\0\0\0\x06\0\0\0\x01\0\x60MTrk', 'latin1');
  const size = Buffer.alloc(4);
  size.writeUInt32BE(body.length);
  return Buffer.concat([head, size, Buffer.from(body)]);
}
