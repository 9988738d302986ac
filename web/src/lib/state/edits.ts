/** Edits that many screens make, each in one place. */
import type { Edit, ProcessorChange } from '$lib/api/types';

/** A value of a processor. */
export const setProcessor = (strip: number, processor: number, change: ProcessorChange): Edit => ({
  kind: 'set_processor',
  strip,
  processor,
  change,
});
