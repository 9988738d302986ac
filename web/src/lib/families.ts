/** The families of voices, as they are named everywhere. */
import type { Family } from '$lib/api/types';

export const FAMILIES: { value: Family; text: string; bus: string }[] = [
  { value: 'low', text: 'Low', bus: 'Low' },
  { value: 'snare', text: 'Snare and clap', bus: 'Snares and claps' },
  { value: 'hats', text: 'Hats and cymbals', bus: 'Hats and cymbals' },
  { value: 'percussion', text: 'Percussion', bus: 'Percussion' },
  { value: 'bass', text: 'Bass', bus: 'Bass' },
  { value: 'music', text: 'Music', bus: 'Music' },
];
