/** What is worth a look at parallel paths and buses, once they were heard. */
import type { Alignment, Check, Edit, Press } from '$lib/api/types';
import { alignmentSaid } from './path-words';
import type { SessionState } from '$lib/state/session.svelte';

/** So much over a budget is none, in dB. */
const NEAR_DB = 0.05;

/** Returns that lie off what feeds them, and a compressor that takes more than its budget. */
export function pathChecks(
  session: SessionState,
  returns: Map<number, Alignment>,
  mendOf: (strip: number, alignment: Alignment) => Edit | undefined,
  looked: { strip: number; press: Press | null } | undefined,
): Check[] {
  const { doc, desk } = session;
  const check = (key: string, sentence: string, repair: Check['repair']): Check => ({
    key,
    sentence,
    repair,
    dismissed: doc.dismissed.includes(key),
  });
  const off = [...returns].flatMap(([strip, alignment]): Check[] => {
    const edit = mendOf(strip, alignment);
    if (!edit) return [];
    const how = alignmentSaid(alignment).text;
    const sentence = `${session.nameOf(strip)} is ${how} beside what feeds it: together they lose ${alignment.gain_db.toFixed(1)} dB.`;
    return [check(`off ${strip}`, sentence, { name: 'Mend it', edit })];
  });
  const { strip, press } = looked ?? {};
  const processor = doc.strips.find((s) => s.id === strip)?.chain.find((p) => p.id === press?.processor);
  const settings = processor?.settings;
  if (!press || !processor || settings?.kind !== 'compressor' || settings.budget_db === 0) return off;
  const taken = Math.abs(press.deepest_db);
  if (taken <= settings.budget_db + NEAR_DB) return off;
  const name = `The ${desk.nameOf(processor).toLowerCase()} of ${session.nameOf(strip ?? null)}`;
  const sentence = `${name} takes ${taken.toFixed(1)} dB in the loop; its budget is ${settings.budget_db.toFixed(1)}.`;
  return [...off, check(`over budget ${processor.id}`, sentence, null)];
}
