/** Changes of a stem plan, one strip at a time. */
import type { StemPlan, Strip, Tap } from '$lib/api/types';

/** Triggers are in no stem, returns in like channels, buses only where asked. */
export const included = (plan: StemPlan, strip: Strip): boolean =>
  strip.kind !== 'trigger' &&
  (strip.kind === 'bus' ? plan.with_buses.includes(strip.id) : !plan.without.includes(strip.id));

export function withStrip(plan: StemPlan, strip: Strip, on: boolean): Partial<StemPlan> {
  const list = strip.kind === 'bus' ? plan.with_buses : plan.without;
  const listed = strip.kind === 'bus' ? on : !on;
  const next = [...list.filter((id) => id !== strip.id), ...(listed ? [strip.id] : [])];
  return strip.kind === 'bus' ? { with_buses: next } : { without: next };
}

export const tapOf = (plan: StemPlan, strip: Strip): Tap =>
  plan.taps.find((choice) => choice.strip === strip.id)?.tap ?? plan.tap;

export const withTap = (plan: StemPlan, strip: Strip, tap: Tap): Partial<StemPlan> => ({
  taps: [...plan.taps.filter((choice) => choice.strip !== strip.id), { strip: strip.id, tap }],
});
