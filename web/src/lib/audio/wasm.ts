/** The core's module and the bytes that go in and out of it. Runs on the page and in the worklet. */

export interface LaneExports {
  memory: WebAssembly.Memory;
  input(bytes: number): number;
  output(): number;
  desk_open(): number;
  desk_apply(): number;
  desk_patch(): number;
  desk_take_back(): number;
  desk_document(): number;
  desk_ids(): number;
  desk_mapped(): number;
  desk_stems(version: number): number;
  desk_take_lines(take: number): number;
  desk_trace(): number;
  desk_latency(): number;
  desk_mono(): number;
  desk_kinds(): number;
  desk_duck_kinds(): number;
  desk_ready(): number;
  desk_duck_starts(): number;
  desk_usual_pair(strip: number, ducker: number): number;
  desk_mends(): number;
  desk_path_checks(): number;
  desk_duck_kind(): number;
  desk_duck_turned(): number;
  desk_duck_back(): number;
  desk_duck_checks(): number;
  desk_notes(): number;
  desk_timeline(): number;
  desk_names(): number;
  desk_destinations(): number;
  desk_losses(): number;
  desk_note_places(): number;
  desk_lane(voice: number, from: number, to: number): number;
  desk_needed(): number;
  desk_curve(): number;
  desk_shape(): number;
  desk_transfer(): number;
  desk_decay(): number;
  desk_echoes(): number;
  desk_spectrum(): number;
  desk_checks(): number;
  desk_engine(fresh: number): number;
  desk_side(side: number): number;
  desk_side_engine(side: number, fresh: number): number;
  desk_offsets(): number;
  desk_blind(seed: number, round: number, sides: number): number;
  desk_chance(right: number, rounds: number): number;
  desk_number(): number;
  player_start(sampleRate: number): void;
  player_words(count: number): number;
  player_take(side: number): void;
  desk_differences(): number;
  desk_go_back(): number;
  player_finish(side: number): void;
  player_busy(side: number): number;
  player_side_bytes(): number;
  player_side_session(side: number): void;
  player_side_recording(
    side: number,
    number: number,
    follows: number,
    start: number,
    from: number,
    to: number,
  ): number;
  player_side_nothing(side: number): void;
  player_hear(side: number, nowDb: number, firstDb: number, secondDb: number): void;
  player_unshelve(number: number): void;
  player_structures(): number;
  player_strips(): number;
  player_room(bytes: number): number;
  player_incoming(number: number, channels: number, frames: number): number;
  player_piece(frames: number): number;
  player_came(): number;
  player_play(): void;
  player_stop(): void;
  player_seek(frame: number): void;
  player_loop(from: number, to: number): void;
  player_position(): number;
  player_audition(voice: number, layer: number, tuneSt: number): void;
  player_process(frames: number): number;
  player_exact(): number;
  player_meters(): number;
  player_meter_values(): number;
  player_short_term_lufs(): number;
  player_true_peak(): number;
  player_listen(strip: number, processor: number, taken: number): void;
  player_fault(): number;
  player_pass_by(): number;
  player_watch(strip: number, processor: number): void;
  player_watched(): number;
  player_watched_frames(): number;
  gauge_open(): number;
  gauge_asset(channels: number): number;
  gauge_ask(from: number, to: number): number;
  gauge_begin(again: number): number;
  gauge_step(frames: number): number;
  gauge_answer(): number;
}

export function instantiate(module: WebAssembly.Module): LaneExports {
  return new WebAssembly.Instance(module, {}).exports as unknown as LaneExports;
}

/** Writes bytes where the module reads its input. */
export function writeInput(lane: LaneExports, ...parts: Uint8Array[]): void {
  const size = parts.reduce((sum, part) => sum + part.byteLength, 0);
  let at = lane.input(size);
  for (const part of parts) {
    new Uint8Array(lane.memory.buffer, at, part.byteLength).set(part);
    at += part.byteLength;
  }
}

/** The bytes of the last answer. */
export function readOutput(lane: LaneExports, length: number): Uint8Array {
  return new Uint8Array(lane.memory.buffer, lane.output(), length).slice();
}
