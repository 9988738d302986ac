/** How a song's bars are numbered on a ruler of some width. */

/** Pixels that a number of three digits takes with the room beside it. */
const NUMBER = 30;

/** Bars from one number to the next: one, two, four …, so that they never touch. */
export function numbersEvery(bars: number, width: number): number {
  let every = 1;
  while (every < bars && (width / bars) * every < NUMBER) every *= 2;
  return every;
}
