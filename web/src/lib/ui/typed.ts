/** What somebody typed into a field of a number, and what it says. */

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

/** What a number that is being typed will do where several are changed at once; nothing where it is no number. */
export function willDo(text: string, least: number, unit: string): string {
  const meant = readTyped(text, least, true);
  if (!meant) return '';
  const number = 'by' in meant ? meant.by : meant.set;
  const written = `${'by' in meant && number > 0 ? '+' : ''}${number}${unit === '' ? '' : ` ${unit}`}`;
  if ('by' in meant) return `each by ${written}; =${meant.by} sets`;
  return number <= least ? 'all off' : `all to ${written}`;
}

/** A number as it is written in its field, in words: with its unit, where it is not said in what is written. */
export function spoken(shown: string, unit: string): string {
  return unit === '' || /[a-z]$/i.test(shown) || shown.endsWith(unit) ? shown : `${shown} ${unit}`;
}

/** A pan in percent: "C", "20 L", "100 R". */
export const panText = (percent: number): string =>
  percent === 0 ? 'C' : `${Math.abs(percent).toFixed(0)} ${percent < 0 ? 'L' : 'R'}`;
