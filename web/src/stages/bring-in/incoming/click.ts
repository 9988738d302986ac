/** The sound of triggers that no lane is like: a click of our own, which nobody hears. */

const RATE = 48_000;
const SECONDS = 0.04;
/** What it swings at, and how fast it falls, in Hz and s. */
const PITCH_HZ = 1000;
const FALL_S = 0.012;
const PEAK = 0.9;

/** A mono WAV file of 16 bits. */
export function clickFile(): File {
  const frames = Math.round(RATE * SECONDS);
  const view = new DataView(new ArrayBuffer(44 + 2 * frames));
  const text = (at: number, word: string) =>
    [...word].forEach((letter, n) => view.setUint8(at + n, letter.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, 36 + 2 * frames, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, RATE, true);
  view.setUint32(28, 2 * RATE, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  text(36, 'data');
  view.setUint32(40, 2 * frames, true);
  for (let n = 0; n < frames; n += 1) {
    const t = n / RATE;
    const x = PEAK * Math.exp(-t / FALL_S) * Math.cos(2 * Math.PI * PITCH_HZ * t);
    view.setInt16(44 + 2 * n, Math.round(x * 32_767), true);
  }
  return new File([view.buffer], 'Trigger click.wav', { type: 'audio/wav' });
}
