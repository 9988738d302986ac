/** Widths of the columns of a row in Parallel, shared with their heads. */
export const SEND_COLUMN = 'min-w-[64px] max-w-[178px] flex-1 border-l border-(--faint)';
export const NEW_COLUMN = 'w-[150px] shrink-0';
