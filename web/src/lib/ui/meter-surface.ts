/** The surface that meters further down in the page are drawn on. */
import { getContext, setContext } from 'svelte';
import type { Surface } from '$lib/audio/painter';

const KEY = Symbol('meter surface');

export const shareSurface = (surface: () => Surface | undefined): void => void setContext(KEY, surface);
export const nearestSurface = (): (() => Surface | undefined) => {
  const surface = getContext<(() => Surface | undefined) | undefined>(KEY);
  if (!surface) throw new Error('a meter stands outside of every MeterSurface');
  return surface;
};
