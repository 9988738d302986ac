/** A number of things in words: "1 row", "3 rows". */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${count} ${count === 1 ? one : many}`;

/** Where bars stand, the first of the song as 0: "bar 3", "bars 3 to 6". */
export const barsAt = (from: number, bars: number): string =>
  bars === 1 ? `bar ${from + 1}` : `bars ${from + 1} to ${from + bars}`;
