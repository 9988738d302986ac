/** Widths of the columns of a row, shared with their heads. */
export const STATION_COLUMNS = {
  // The narrowest windows leave the source out; the bench has it.
  source: 'w-[max(128px,10vw)] shrink-0 pr-3 pl-2 max-[1150px]:hidden',
  trimmed: 'w-[max(128px,10vw)] shrink-0 pr-3 pl-2',
  chain: 'min-w-0 flex-1 pr-3 pl-2',
  out: 'w-[max(128px,10vw)] shrink-0 pr-3 pl-2',
};
export const VALUE_COLUMN = 'w-[60px] shrink-0 last:mr-4';
