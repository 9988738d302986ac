/** Ready stations for buses and main. */
import type { PathStart } from './paths';

type BusStart = Omit<PathStart, 'name'>;

/** Bus compressors: their releases follow the tempo, and each says how much it shall take at most. */
export const BUS_COMPRESSORS: readonly BusStart[] = [
  {
    id: 'together',
    text: 'held together, 2 dB',
    chain: [
      {
        kind: 'compressor',
        values: {
          threshold_dbfs: -18,
          ratio: 2,
          knee_db: 8,
          attack_ms: 30,
          release_in: '1/8',
          budget_db: 2,
        },
      },
    ],
  },
  {
    id: 'swing',
    text: 'moves with the beat, 4 dB',
    chain: [
      {
        kind: 'compressor',
        values: {
          threshold_dbfs: -22,
          ratio: 4,
          knee_db: 4,
          attack_ms: 10,
          release_in: '1/4',
          budget_db: 4,
        },
      },
    ],
  },
  {
    id: 'quick',
    text: 'quick, on peaks alone, 3 dB',
    chain: [
      {
        kind: 'compressor',
        values: {
          threshold_dbfs: -14,
          ratio: 3,
          knee_db: 3,
          attack_ms: 3,
          release_in: '1/16',
          budget_db: 3,
        },
      },
    ],
  },
];

/** Other stations of a bus, and the whole of main with its limiter last. */
export const BUS_STATIONS: readonly BusStart[] = [
  { id: 'equaliser', text: 'equaliser', chain: [{ kind: 'equaliser' }] },
  { id: 'saturation', text: 'colour: saturation', chain: [{ kind: 'saturation', values: { drive_db: 4 } }] },
  { id: 'enhancer', text: 'colour: enhancer', chain: [{ kind: 'enhancer' }] },
  { id: 'clipper', text: 'colour: clipper', chain: [{ kind: 'clipper', values: { ceiling_dbfs: -2 } }] },
];

export const MAIN_STATIONS: readonly BusStart[] = [
  ...BUS_STATIONS,
  { id: 'limiter', text: 'limiter, last', chain: [{ kind: 'limiter' }] },
  {
    id: 'main',
    text: 'a whole chain: equaliser, compressor, colour, limiter',
    chain: [
      { kind: 'equaliser' },
      ...(BUS_COMPRESSORS[0]?.chain ?? []),
      { kind: 'saturation', values: { drive_db: 2 } },
      { kind: 'limiter' },
    ],
  },
];
