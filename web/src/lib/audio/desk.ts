/** The document on the page: edits are applied by the core itself, at once. */
import type {
  Difference,
  Bands,
  BeatShape,
  Check,
  Delay,
  DuckKind,
  DuckKindInfo,
  DuckStart,
  Ducker,
  Echo,
  Edit,
  Destination,
  Done,
  Incoming,
  Insertion,
  KindInfo,
  LaneGrid,
  NameLine,
  NotePlaces,
  Pair,
  Patch,
  Pathed,
  PathReading,
  Processor,
  Ready,
  ReadyChain,
  ReadyPlace,
  Response,
  Reverb,
  Session,
  Settings,
  StemSpec,
  StripMap,
  MonoPlaces,
  StripLatency,
  Take,
  TakeLine,
  Timeline,
  Trace,
  TraceQuestion,
  Warning,
} from '$lib/api/types';
import { Refused } from './refused';
import { instantiate, readOutput, writeInput, type LaneExports } from './wasm';
import wasmUrl from '$lib/wasm/lane.wasm?url';

const encoder = new TextEncoder();
const decoder = new TextDecoder();

let compiled: Promise<WebAssembly.Module> | undefined;

/** The core's module, fetched and compiled once. */
export function loadModule(): Promise<WebAssembly.Module> {
  compiled ??= WebAssembly.compileStreaming(fetch(wasmUrl));
  return compiled;
}

export interface StemPreview {
  stems: StemSpec[];
  frames: number;
  warnings: Warning[];
}

export class Desk {
  private lane: LaneExports;
  /** Counts up when the core began anew, and with it the numbers of audio. */
  beginnings = 0;

  /** Every kind of processor, with what is known of its values. */
  readonly kinds: KindInfo[];
  /** Every kind of ducker, in the order in which they are offered. */
  readonly duckKinds: DuckKindInfo[];
  /** What is offered whatever the session holds. */
  readonly ready: Ready;
  /** How long notes are, in quarter notes, by their words. */
  readonly notes: Map<string, number>;

  /**
   * * `revive` – gives the document as it stands, where the core came to grief over a question and begins anew.
   */
  constructor(
    private readonly module: WebAssembly.Module,
    private readonly revive: () => Session | undefined = () => undefined,
  ) {
    this.lane = instantiate(module);
    this.kinds = this.ask(() => this.lane.desk_kinds());
    this.duckKinds = this.ask(() => this.lane.desk_duck_kinds());
    this.ready = this.ask(() => this.lane.desk_ready());
    this.notes = new Map(this.ask<[string, number][]>(() => this.lane.desk_notes()));
  }

  private ask<T>(call: () => number, input?: unknown): T {
    const answer: unknown = JSON.parse(decoder.decode(this.guarded(call, input)));
    if (answer !== null && typeof answer === 'object' && 'error' in answer)
      throw new Refused(String(answer.error));
    return answer as T;
  }

  /** Asks the core. A trap in it ends its instance; a new one begins with the document as it stood. */
  private guarded(call: () => number, input: unknown): Uint8Array {
    const write = (value: unknown) => writeInput(this.lane, encoder.encode(JSON.stringify(value)));
    try {
      if (input !== undefined) write(input);
      return readOutput(this.lane, call());
    } catch (error) {
      if (!(error instanceof WebAssembly.RuntimeError)) throw error;
      this.lane = instantiate(this.module);
      this.beginnings += 1;
      const session = this.revive();
      if (session) {
        write(session);
        this.lane.desk_open();
      }
      throw new Refused('the core came to grief over it; the session is as it was before', { cause: error });
    }
  }

  open(session: Session): void {
    this.ask(() => this.lane.desk_open(), session);
  }

  apply(edit: Edit): Done {
    return this.ask(() => this.lane.desk_apply(), edit);
  }

  /** A change that others know of. */
  patch(patch: Patch): void {
    this.ask(() => this.lane.desk_patch(), patch);
  }

  /** Takes back what nobody else has seen. */
  takeBack(patch: Patch): void {
    this.ask(() => this.lane.desk_take_back(), patch);
  }

  /** What the engine has to follow since the last call, as 64-bit floats; everything where it begins anew. */
  engine(fresh: boolean): ArrayBuffer {
    const words = this.guarded(() => this.lane.desk_engine(fresh ? 1 : 0), undefined);
    return words.buffer as ArrayBuffer;
  }

  /** Puts another state of the session on a side from 1, or the session without processors, or nothing. */
  side(side: number, what: 'without' | { document: Session } | null): void {
    this.ask(() => this.lane.desk_side(side), what);
  }

  /** As `engine`, of a side from 1. */
  sideEngine(side: number, fresh: boolean): ArrayBuffer {
    const words = this.guarded(() => this.lane.desk_side_engine(side, fresh ? 1 : 0), undefined);
    return words.buffer as ArrayBuffer;
  }

  /** By how much sides have to be moved in dB to be as loud as the softest; of silent ones, nothing is asked. */
  offsets(lufs: (number | null)[]): number[] {
    return this.ask(() => this.lane.desk_offsets(), lufs);
  }

  /** The order of sides in a blind round, and which of two is the unknown one. */
  blind(seed: number, round: number, sides: number): { order: number[]; unknown: number } {
    return this.ask(() => this.lane.desk_blind(seed, round, sides));
  }

  /** How likely it is, in 0 to 1, to be right at least so often by chance. */
  chance(right: number, rounds: number): number {
    return this.ask(() => this.lane.desk_chance(right, rounds));
  }

  /** The number by which the engine knows a piece of audio. */
  audioNumber(id: string): number {
    return this.ask(() => this.lane.desk_number(), id);
  }

  /** The document as it stands. */
  document(): Session {
    return this.ask(() => this.lane.desk_document());
  }

  /** Ids of the session that an edit names. */
  ids(edit: Edit): number[] {
    return this.ask(() => this.lane.desk_ids(), edit);
  }

  /** The edit with other ids. */
  mapped(edit: Edit, map: [number, number][]): Edit {
    return this.ask(() => this.lane.desk_mapped(), { edit, map });
  }

  /** Every sound of a kept take. */
  takeLines(take: number): TakeLine[] {
    return this.ask(() => this.lane.desk_take_lines(take));
  }

  /** The ways of a lane to main, and what stops them. */
  trace(asked: TraceQuestion): Trace {
    return this.ask(() => this.lane.desk_trace(), asked);
  }

  /** How late sound is at every strip. */
  latency(): StripLatency[] {
    return this.ask(() => this.lane.desk_latency());
  }

  /** Where only mono sound arrives, so that width does nothing. */
  mono(): MonoPlaces {
    return this.ask(() => this.lane.desk_mono());
  }

  /** The name of a kind of processor on screens. */
  nameOf({ settings }: Pick<Processor, 'settings'>): string {
    return this.kinds.find((k) => k.default.kind === settings.kind)?.name ?? settings.kind;
  }

  /** Which kind of ducker some settings are; nothing for a processor that is none. */
  duckKind(settings: Settings): DuckKind | null {
    return this.ask(() => this.lane.desk_duck_kind(), settings);
  }

  /**
   * A ducker as another kind, with its times where they mean the same.
   *
   * * `depth_db` – how deep it goes.
   * * `shared_hz` – the band in which it is wanted, where that is known.
   */
  duckTurned(
    settings: Settings,
    to: DuckKind,
    depth_db: number,
    shared_hz: [number, number] | null,
  ): Settings {
    return this.ask(() => this.lane.desk_duck_turned(), { settings, to, depth_db, shared_hz });
  }

  /** A ducker as it was set before as another kind, with the times that it has now where they were changed. */
  duckBack(before: Settings, now: Settings): Settings {
    return this.ask(() => this.lane.desk_duck_back(), { before, now });
  }

  /** What is worth a look at duckers, once they were heard. */
  duckChecks(heard: Ducker[]): Check[] {
    return this.ask(() => this.lane.desk_duck_checks(), heard);
  }

  /** What is ducked by what in most beats, as far as the session has it, and is not yet. */
  duckStarts(): DuckStart[] {
    return this.ask(() => this.lane.desk_duck_starts());
  }

  /** The pair for which room is made first, by the strip and the ducker that are looked at. */
  usualPair(strip = 0, ducker = 0): Pair {
    return this.ask(() => this.lane.desk_usual_pair(strip, ducker));
  }

  /** Ready chains for some places, in the order in which they are offered. */
  chainsFor(...places: ReadyPlace[]): ReadyChain[] {
    return this.ready.chains.filter((chain) => places.includes(chain.place));
  }

  /** What brings strips in time and polarity, as they were heard: an edit for each that lies off. */
  mends(heard: Pick<PathReading, 'strip' | 'alignment'>[]): Edit[] {
    return this.ask(() => this.lane.desk_mends(), heard);
  }

  /** What is worth a look at parallel paths, once they were heard. */
  pathChecks(heard: Pick<Pathed, 'returns' | 'bench'>): Check[] {
    return this.ask(() => this.lane.desk_path_checks(), heard);
  }

  /** The gain of a filter in dB at some frequencies, by the core's own coefficients; nothing of other processors. */
  curve(settings: Settings, freqs_hz: number[], mix_percent = 100): Response | null {
    return this.ask(() => this.lane.desk_curve(), { settings, freqs_hz, mix_percent });
  }

  /** The echoes of a delay at the session's tempo. */
  echoes(delay: Delay): Echo[] {
    return this.ask(() => this.lane.desk_echoes(), delay);
  }

  /** What a shape takes away over its length, in steps and at its end, in dB. */
  shape(shape: BeatShape, steps: number): number[] {
    return this.ask(() => this.lane.desk_shape(), { shape, steps });
  }

  /** What differs from another state of the session, row by row. */
  differences(then: Session): Difference[] {
    return this.ask(() => this.lane.desk_differences(), then);
  }

  /** The edit that makes another state of the session of it. */
  goBack(name: string, then: Session): Edit {
    return this.ask(() => this.lane.desk_go_back(), { name, then });
  }

  /** The level in dBFS that steady levels come out at; nothing of processors that do not go by the level. */
  transfer(settings: Settings, levels_dbfs: number[]): (number | null)[] {
    return this.ask(() => this.lane.desk_transfer(), { settings, levels_dbfs });
  }

  /** The time in which a reverb falls by 60 dB, in seconds at some frequencies. */
  decay(reverb: Reverb, freqs_hz: number[]): number[] {
    return this.ask(() => this.lane.desk_decay(), { reverb, freqs_hz });
  }

  /** The spectrum of some sound of one side. */
  spectrum(sound: Float32Array): Bands {
    writeInput(this.lane, new Uint8Array(sound.buffer, sound.byteOffset, sound.byteLength));
    return this.ask(() => this.lane.desk_spectrum());
  }

  /** The time grid of the session. */
  timeline(): Timeline {
    return this.ask(() => this.lane.desk_timeline());
  }

  /** What every strip is called. */
  names(): NameLine[] {
    return this.ask(() => this.lane.desk_names());
  }

  /**
   * Where sounds that come in go: a lane that waits for each, or the bus of its family.
   *
   * @param stand_ins sounds that lanes of a take play until they get their own
   */
  destinations(incoming: Incoming[], stand_ins: string[] = []): Destination[] {
    return this.ask(() => this.lane.desk_destinations(), { incoming, stand_ins });
  }

  /** What would go with an edit though it is not what it is for, in a few words each. */
  losses(edit: Edit): string[] {
    return this.ask(() => this.lane.desk_losses(), edit);
  }

  /** Where the notes of a take go that comes in behind some edits. */
  notePlaces(before: Edit[], take: Take): NotePlaces {
    return this.ask(() => this.lane.desk_note_places(), { before, take });
  }

  /** A lane over bars of the song, from one up to another; nothing where the voice is gone. */
  laneGrid(voice: number, from: number, to: number): LaneGrid | null {
    return this.ask(() => this.lane.desk_lane(voice, from, to));
  }

  /** Buses and returns that lanes of another session need, and where they end up if nobody says otherwise. */
  needed(insertion: Insertion): StripMap[] {
    return this.ask(() => this.lane.desk_needed(), insertion);
  }

  /** Everything worth a look. */
  checks(): Check[] {
    return this.ask(() => this.lane.desk_checks());
  }

  stems(version: number): StemPreview {
    return this.ask(() => this.lane.desk_stems(version));
  }
}
