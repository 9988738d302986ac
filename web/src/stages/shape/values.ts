/** How values of processors move and are written. */
import type { KindInfo, Param, Settings } from '$lib/api/types';

/** A step that suits the range: fine for small values that run by ratio. */
export function stepOf(param: Param, value: number): number {
  if (param.scale === 'ratio') return Math.max(param.max <= 20 ? 0.05 : 0.1, Math.round(value * 5) / 100);
  const range = param.max - param.min;
  return range > 4000 ? 50 : range > 400 ? 5 : range > 150 ? 1 : 0.5;
}

/** Digits behind the point. */
export function digitsOf(param: Param): number {
  if (param.unit === 'samples' || param.unit === 'Hz') return 0;
  return param.unit === 's' || param.unit === 'Q' ? 2 : 1;
}

/** The time in ms that a choice such as `attack_in` counts in notes. */
export const timeOf = (params: Param[], choice: string): Param | undefined =>
  choice.endsWith('_in') ? params.find((p) => p.name === choice.replace(/_in$/, '_ms')) : undefined;

/** Whether a time in ms says nothing, since a note rules. */
export function ruledByNote(values: object, name: string): boolean {
  if (!name.endsWith('_ms')) return false;
  const counted = (values as Record<string, unknown>)[name.replace(/_ms$/, '_in')];
  return counted !== undefined && counted !== 'ms';
}

/** Whether a value says nothing as others stand. */
export const isIdle = (settings: Settings, name: string): boolean =>
  (settings.kind === 'delay' && name === 'time_ms' && settings.note !== 'free') ||
  (settings.kind === 'compressor' && name === 'floor_dbfs' && settings.direction === 'down') ||
  (settings.kind === 'beat_shape' && settings.band === 'whole' && (name === 'corner_hz' || name === 'q')) ||
  ruledByNote(settings, name);

/** Settings of another kind, with every value and choice that means the same in both. */
export function asKind(to: KindInfo, settings: Settings, from: KindInfo): Settings {
  const given = settings as unknown as Record<string, unknown>;
  const made: Record<string, unknown> = { ...to.default };
  const unit = (of: Param) => (of.unit === 'dBTP' ? 'dBFS' : of.unit);
  for (const param of to.params) {
    const same = from.params.find((p) => p.label === param.label && unit(p) === unit(param));
    const value = same && given[same.name];
    if (typeof value === 'number') made[param.name] = Math.max(param.min, Math.min(param.max, value));
  }
  for (const choice of to.choices) {
    const value = given[choice.name];
    if (choice.options.some(([option]) => option === value)) made[choice.name] = value;
  }
  return made as unknown as Settings;
}
