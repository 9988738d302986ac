/** What somebody typed into a field of a number. */

export type Typed = { set: number } | { by: number };

/**
 * The number that was meant: "off", a plain number or one behind "=" sets; where several are changed at once, "+3" and
 * "-10" move all of them. Nothing where it is no number.
 */
export function readTyped(text: string, least: number, several: boolean): Typed | undefined {
  const wish = text.trim().toLowerCase().replace(',', '.').replace('−', '-');
  if (wish === 'off') return { set: least };
  const sets = wish.startsWith('=');
  const number = Number.parseFloat(sets ? wish.slice(1) : wish);
  if (!Number.isFinite(number)) return undefined;
  return several && !sets && /^[-+]/.test(wish) ? { by: number } : { set: number };
}
