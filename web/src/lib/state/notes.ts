/** Times in notes, said in ms as well. */

/**
 * A note with how long it is at a tempo, as far as a range of ms lets it; what is no note stays as it is.
 *
 * * `notes` – how long notes are, in quarter notes, by their words.
 */
export function noteWithMs(
  notes: Map<string, number>,
  text: string,
  note: string,
  bpm: number,
  range: { min: number; max: number } = { min: 0, max: Infinity },
): string {
  const quarters = notes.get(note);
  if (quarters === undefined) return text;
  const ms = Math.min(range.max, Math.max(range.min, (quarters * 60_000) / bpm));
  return `${text}, ${ms.toFixed(ms < 100 ? 1 : 0)} ms`;
}
