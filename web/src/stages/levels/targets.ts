/** What targets are given in. */
import type { TargetBy } from '$lib/api/types';

export const TARGETS: Record<TargetBy, { text: string; unit: string }> = {
  peak: { text: 'Sample peak', unit: 'dBFS' },
  true_peak: { text: 'True peak', unit: 'dBTP' },
  rms: { text: 'RMS', unit: 'dBFS' },
  loudness: { text: 'Loudness', unit: 'LUFS' },
};

/** A level with one digit; a dash for silence. */
export const level = (db: number | null | undefined): string =>
  db === null || db === undefined ? '–' : db.toFixed(1).replace(/^-0\.0$/, '0.0');
