/** What page and worklet tell each other. JSON goes as bytes, since the worklet cannot encode text. */

export type ToWorklet =
  | { kind: 'open'; session: Uint8Array }
  | { kind: 'patch'; patch: Uint8Array }
  | { kind: 'asset'; id: Uint8Array; channels: number; pcm: ArrayBuffer }
  | { kind: 'play' }
  | { kind: 'stop' }
  | { kind: 'seek'; frame: number }
  | { kind: 'loop'; from: number; to: number }
  | { kind: 'audition'; voice: number; layer: number; tuneSt: number }
  /** What a processor's key hears instead of main; main again with ids of 0. */
  | { kind: 'listen'; strip: number; processor: number };

export type FromWorklet =
  | { kind: 'strips'; strips: Uint8Array }
  | { kind: 'failed'; answer: Uint8Array }
  | {
      kind: 'meters';
      /** Frames from bar 1. */
      position: number;
      playing: boolean;
      values: Float32Array;
      lufs: number;
      truePeak: number;
      /** A strip whose chain failed and was started afresh; 0 for none. */
      fault: number;
    };
