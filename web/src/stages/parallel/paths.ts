/** Ready parallel paths: what they are called and what stands in their chains. */
import type { Band, Edit, KindInfo, Processor, Settings } from '$lib/api/types';

/** Values of a kind that differ from its plain ones. */
interface Station {
  kind: Settings['kind'];
  values?: Record<string, unknown>;
  bands?: Partial<Band>[];
  input_db?: number;
  output_db?: number;
}

export interface PathStart {
  id: string;
  /** What the new return is called. */
  name: string;
  text: string;
  chain: Station[];
}

const corner = (shape: Band['shape'], freq_hz: number): Partial<Band> => ({ shape, freq_hz, slope: '24' });

export const PATH_STARTS: readonly PathStart[] = [
  {
    id: 'fast',
    name: 'Press',
    text: 'compression: fast and hard',
    chain: [
      {
        kind: 'compressor',
        values: {
          threshold_dbfs: -36,
          ratio: 10,
          knee_db: 2,
          attack_ms: 0.5,
          release_ms: 130,
          makeup_db: 10,
        },
      },
    ],
  },
  {
    id: 'slow',
    name: 'Round',
    text: 'compression: slow and round',
    chain: [
      {
        kind: 'compressor',
        values: {
          threshold_dbfs: -32,
          ratio: 4,
          knee_db: 12,
          attack_ms: 28,
          release_ms: 260,
          detect: 'rms',
          makeup_db: 9,
        },
      },
    ],
  },
  {
    id: 'upward',
    name: 'Lift',
    text: 'compression: what is soft comes up',
    chain: [
      {
        kind: 'compressor',
        values: {
          direction: 'up',
          threshold_dbfs: -14,
          floor_dbfs: -78,
          ratio: 6,
          knee_db: 6,
          range_db: 24,
          attack_ms: 1,
          release_ms: 30,
        },
      },
    ],
  },
  {
    id: 'saturation',
    name: 'Warm',
    text: 'colour: saturation',
    chain: [{ kind: 'saturation', input_db: 9, output_db: -4 }],
  },
  {
    id: 'clip',
    name: 'Grit',
    text: 'colour: clipped',
    chain: [{ kind: 'clipper', input_db: 14, output_db: -8 }],
  },
  { id: 'enhance', name: 'Sheen', text: 'colour: enhanced', chain: [{ kind: 'enhancer' }] },
  {
    id: 'backdrop',
    name: 'Backdrop',
    text: 'backdrop: crushed, band-limited, wet',
    chain: [
      { kind: 'equaliser', bands: [corner('high_pass', 280), corner('low_pass', 3800)] },
      { kind: 'crush' },
      { kind: 'reverb', values: { space: 'room' } },
    ],
  },
  { id: 'room', name: 'Room', text: 'space: room', chain: [{ kind: 'reverb', values: { space: 'room' } }] },
  {
    id: 'plate',
    name: 'Plate',
    text: 'space: plate',
    chain: [{ kind: 'reverb', values: { space: 'plate' } }],
  },
  { id: 'hall', name: 'Hall', text: 'space: hall', chain: [{ kind: 'reverb', values: { space: 'hall' } }] },
  {
    id: 'echo',
    name: 'Echo',
    text: 'echo: dotted eighths',
    chain: [{ kind: 'delay', values: { note: '1/8d', sides: 'straight' } }],
  },
  {
    id: 'turns',
    name: 'Turns',
    text: 'echo: eighths in turn, left and right',
    chain: [{ kind: 'delay', values: { note: '1/8', sides: 'ping_pong' } }],
  },
];

/** Processors as ready stations have them; ids are made when they come into a chain. */
export function processorsOf(chain: readonly Station[], kinds: readonly KindInfo[]): Processor[] {
  return chain.flatMap((station): Processor[] => {
    const kind = kinds.find((k) => k.default.kind === station.kind);
    if (!kind) return [];
    const bands = station.bands?.flatMap((band) => (kind.bands ? [{ ...kind.bands.default, ...band }] : []));
    return [
      {
        id: 0,
        on: true,
        input_db: station.input_db ?? 0,
        output_db: station.output_db ?? 0,
        mix_percent: 100,
        key: null,
        settings: { ...kind.default, ...station.values, ...(bands ? { bands } : {}) } as Settings,
      },
    ];
  });
}

/** The edit that makes a path of rows. */
export const newPath = (start: PathStart, feeders: number[], kinds: readonly KindInfo[]): Edit => ({
  kind: 'new_path',
  name: start.name,
  feeders,
  processors: processorsOf(start.chain, kinds),
});
