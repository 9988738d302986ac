/** Times in notes, in ms. */
/** How long a note lasts at a tempo, in ms; nothing of ms, which are no note. */
export function noteMs(note: string, bpm: number): number | undefined {
  const [, part, mark] = /^1\/(\d+)([td]?)$/.exec(note) ?? [];
  if (part === undefined) return undefined;
  const by = mark === 't' ? 2 / 3 : mark === 'd' ? 1.5 : 1;
  return ((4 * 60_000) / bpm / Number(part)) * by;
}

/** A note with how long it is at a tempo, as far as a range of ms lets it; what is no note stays as it is. */
export function noteWithMs(
  text: string,
  note: string,
  bpm: number,
  range: { min: number; max: number } = { min: 0, max: Infinity },
): string {
  const whole = noteMs(note, bpm);
  const ms = whole === undefined ? undefined : Math.min(range.max, Math.max(range.min, whole));
  return ms === undefined ? text : `${text}, ${ms.toFixed(ms < 100 ? 1 : 0)} ms`;
}
