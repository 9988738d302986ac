/** Widths of the columns of a row in Duck, shared with their heads. */
export const KEY_COLUMN = 'min-w-[44px] max-w-[150px] flex-1 border-l border-(--faint)';
export const ADD_COLUMN = 'w-[164px] shrink-0';
export const RECOVERY_COLUMN = 'w-[190px] shrink-0 pr-4';
