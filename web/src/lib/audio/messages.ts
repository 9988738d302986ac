import type { Answer, Question } from '$lib/api/types';

/** What page and worklet tell each other. Nothing in it has to be parsed in the audio thread. */

export type ToWorklet =
  /** What the core on the page worked out for a side, 0 for now, as 64-bit floats; all of a session where it begins. */
  | { kind: 'words'; side: number; words: ArrayBuffer; begin: boolean }
  /** Plays audio of a number on a side from 1, past everything; once that is there. */
  | ({ kind: 'recording'; side: number; number: number } & RecordingWay)
  /** Nothing is on a side from 1 any more. */
  | { kind: 'nothing'; side: number }
  /** Hears a side, 0 for now, each at a level in dB. */
  | { kind: 'hear'; side: number; levels: Levels }
  /** Audio of a number that nothing plays any more. */
  | { kind: 'unshelve'; number: number }
  /** Audio by its number, interleaved. */
  | { kind: 'audio'; number: number; channels: number; pcm: ArrayBuffer }
  /** Room for meters that was read and can be used again. */
  | { kind: 'spent'; values: Float32Array<ArrayBuffer> }
  | { kind: 'play' }
  | { kind: 'stop' }
  | { kind: 'seek'; frame: number }
  | { kind: 'loop'; from: number; to: number }
  | { kind: 'audition'; voice: number; layer: number; tuneSt: number }
  /** What a processor's key hears instead of main, or what the processor takes away; main again with ids of 0. */
  | { kind: 'listen'; strip: number; processor: number; taken: boolean }
  /** Passes processors by; JSON. */
  | { kind: 'passBy'; bypass: Uint8Array }
  /** Watches the sound before and behind a processor, or a strip's end; nothing with ids of 0. */
  | { kind: 'watch'; strip: number; processor: number };

/** Levels in dB of now and the two sides beside it. */
export type Levels = [now: number, first: number, second: number];

/** How a recording goes along, in frames: by itself, or with the song from a frame of it on. */
export interface RecordingWay {
  follows: boolean;
  /** The frame of the song that `from` falls on, where it follows. */
  start: number;
  from: number;
  to: number;
}

export type FromWorklet =
  | { kind: 'strips'; strips: Uint8Array }
  /** The words of so many messages to a side are followed. */
  | { kind: 'followed'; side: number; messages: number }
  /** What a recording plays on a side is there. */
  | { kind: 'stands'; side: number }
  | { kind: 'failed'; answer: Uint8Array }
  /** The engine came to grief and is empty; it wants the session and its audio again. */
  | { kind: 'restarted' }
  | {
      kind: 'meters';
      /** Frames from bar 1. */
      position: number;
      playing: boolean;
      values: Float32Array<ArrayBuffer>;
      lufs: number;
      truePeak: number;
      /** A strip whose chain failed and was started afresh; 0 for none. */
      fault: number;
    }
  /** The newest sound before and behind what is watched, each half of the values. */
  | { kind: 'watched'; values: Float32Array };

/** A question for the measuring worker. */
export interface GaugeRun {
  module: WebAssembly.Module;
  /** Tells its answer from others'; what was asked before the newest is called off. */
  turn: number;
  /** The session and the edits that are made to what is measured alone, as JSON: text goes over in one piece, and the core
   *  reads it as it is. */
  heard: string;
  question: Question;
  /** In frames from bar 1. */
  from: number;
  to: number;
  /** Names what is heard: a question about what was heard last is answered without hearing it again. */
  key?: string;
  /** A recording that the session does not hold. */
  recording?: { asset: string; channels: number; pcm: ArrayBuffer };
}

export type ToGauge =
  | ({ kind: 'ask' } & GaugeRun)
  | { kind: 'cancel' }
  /** Sound broke: nothing is heard for so long, in ms. */
  | { kind: 'rest'; ms: number };

export type FromGauge = { turn: number } & (
  | { kind: 'progress'; part: number }
  | { kind: 'answer'; answer: Answer }
  | { kind: 'failed'; error: string }
  /** It was called off. */
  | { kind: 'ended' }
);
