import type { Voice } from '$lib/api/types';

/** The audio that a voice plays. */
export const assetsOf = ({ source }: Voice): string[] =>
  source.kind === 'one_shot'
    ? source.layers.map((layer) => layer.asset)
    : source.kind === 'recording'
      ? [source.asset]
      : [];
