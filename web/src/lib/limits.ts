/** Bounds as fields want them, from the core's table. */
import { LIMITS } from '$lib/api/types/limits';

type Ranges = {
  [K in keyof typeof LIMITS]: (typeof LIMITS)[K] extends readonly [number, number] ? K : never;
}[keyof typeof LIMITS];

/** The least and the most of a value. */
export function range(name: Ranges): { min: number; max: number } {
  const [min, max] = LIMITS[name];
  return { min, max };
}
