/** Widths of the columns of a row in Compare, shared with their heads. */
export const NOW_COLUMN = 'min-w-0 flex-1 pl-3';
export const THEN_COLUMN = 'min-w-0 flex-1 pl-3';
export const TAKE_COLUMN = 'w-[96px] shrink-0 pr-4';
