/** Edits that many screens make, each in one place. */
import type { Edit, ProcessorChange, Session, Settings } from '$lib/api/types';

/** A value of a processor. */
export const setProcessor = (strip: number, processor: number, change: ProcessorChange): Edit => ({
  kind: 'set_processor',
  strip,
  processor,
  change,
});

/**
 * Settings of a processor: of those values that differ from what it has, so that what others set meanwhile stays.
 *
 * @param doc the session without what is still being tried: that is what a drag began from
 */
export function setSettings(doc: Session, strip: number, processor: number, to: Settings): Edit {
  const chain = doc.strips.find((s) => s.id === strip)?.chain;
  const from = chain?.find((p) => p.id === processor)?.settings;
  return setProcessor(
    strip,
    processor,
    from?.kind === to.kind ? { what: 'moved', to: { from, to } } : { what: 'settings', to },
  );
}
