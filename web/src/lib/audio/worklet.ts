/** The engine in the audio thread: messages in, blocks and meters out, nothing else. */
import { Arrivals } from './arrivals';
import type { FromWorklet, ToWorklet } from './messages';
import { instantiate, readOutput, writeInput, type LaneExports } from './wasm';

const BLOCK = 128;
/** Meters are sent about 60 times a second. */
const METERS_PER_SECOND = 60;
/** Short-term loudness is read a tenth as often as peaks; it moves slowly and costs more. */
const LOUDNESS_EVERY = 6;
/** What is watched is sent every so many messages of meters: 15 times a second. */
const WATCHED_EVERY = 4;

/** Readings without any level after which no more are sent, so that bars can fall. */
const STILL = 120;

/** The sentence for an engine that falls again and again, as JSON in bytes, since a worklet cannot encode text. */
const FALLEN = Uint8Array.from(
  '{"error":"The sound engine failed again. Undo your last change, then reload the page."}',
  (c) => c.charCodeAt(0),
);

class LaneProcessor extends AudioWorkletProcessor {
  private lane: LaneExports;
  private readonly module: WebAssembly.Module;
  /** Frames since the engine was started anew; it rests where that was a moment ago. */
  private sinceRestart = Infinity;
  private playing = false;
  private untilMeters = 0;
  private untilLoudness = 0;
  private untilWatched = 0;
  private watching = false;
  private lufs = -Infinity;
  /** Messages of words that are not followed yet, by their side. */
  private following = [0, 0, 0];
  /** Sessions that wait for room on their side, with their words. */
  private beginning: { side: number; words: ArrayBuffer }[] = [];
  /** Recordings that wait for their audio. */
  private expected: Extract<ToWorklet, { kind: 'recording' }>[] = [];
  private structures = 0;
  /** Readings without any level since the song stopped. */
  private still = 0;
  private readonly arrivals = new Arrivals();
  /** Room for meters that came back. */
  private spent: Float32Array<ArrayBuffer>[] = [];
  /** The module's memory, as it was last. */
  private planar = new Float32Array(0);
  private meters = new Float32Array(0);

  constructor(options: { processorOptions: { module: WebAssembly.Module } }) {
    super();
    this.module = options.processorOptions.module;
    this.lane = this.begin();
    this.port.onmessage = (event: MessageEvent<ToWorklet>) => this.guarded(() => this.take(event.data));
  }

  /** The core with an engine without a session, so that what it is asked before one comes is not lost. */
  private begin(): LaneExports {
    const lane = instantiate(this.module);
    lane.player_start(sampleRate);
    return lane;
  }

  /** Runs the engine. A trap in it ends its instance; a new one begins, and the page is asked for the session. */
  private guarded(run: () => void): void {
    try {
      run();
    } catch (error) {
      if (!(error instanceof WebAssembly.RuntimeError)) throw error;
      const soon = this.sinceRestart < 2 * sampleRate;
      this.sinceRestart = 0;
      this.lane = this.begin();
      [this.following, this.structures] = [[0, 0, 0], 0];
      [this.beginning, this.expected] = [[], []];
      this.arrivals.clear();
      // One that falls over what it was just given would fall over it again and again.
      if (!soon) this.send({ kind: 'restarted' });
      else this.send({ kind: 'failed', answer: FALLEN });
    }
  }

  private send(message: FromWorklet): void {
    this.port.postMessage(message);
  }

  private take(message: ToWorklet): void {
    const lane = this.lane;
    switch (message.kind) {
      case 'words':
        return this.takeWords(message.side, message.words, message.begin);
      case 'audio':
        this.arrivals.push(message);
        while (!this.playing && !this.arrivals.isEmpty) this.moveArrivals();
        return;
      case 'recording':
        this.leaveSide(message.side);
        this.expected.push(message);
        return this.tryRecordings();
      case 'nothing':
        this.leaveSide(message.side);
        return lane.player_side_nothing(message.side);
      case 'hear':
        return lane.player_hear(message.side, ...message.levels);
      case 'unshelve':
        return lane.player_unshelve(message.number);
      case 'spent':
        if (this.spent.length < 2) this.spent.push(message.values);
        return;
      case 'play':
        this.playing = true;
        this.still = 0;
        return lane.player_play();
      case 'stop':
        this.playing = false;
        return lane.player_stop();
      case 'seek':
        return lane.player_seek(message.frame);
      case 'loop':
        return lane.player_loop(message.from, message.to);
      case 'audition':
        this.still = 0;
        return lane.player_audition(message.voice, message.layer, message.tuneSt);
      case 'listen':
        return lane.player_listen(message.strip, message.processor, message.taken ? 1 : 0);
      case 'passBy':
        writeInput(lane, message.bypass);
        lane.player_pass_by();
        return;
      case 'watch':
        this.watching = message.strip > 0;
        return lane.player_watch(message.strip, message.processor);
    }
  }

  /** What was on its way to a side is not wanted any more. */
  private leaveSide(side: number): void {
    this.beginning = this.beginning.filter((begun) => begun.side !== side);
    this.expected = this.expected.filter((recording) => recording.side !== side);
    this.following[side] = 0;
  }

  private moveArrivals(): void {
    if (!this.arrivals.move(this.lane)) return;
    this.still = 0;
    this.tryRecordings();
  }

  private tryRecordings(): void {
    this.expected = this.expected.filter(({ side, number, follows, start, from, to }) => {
      if (this.lane.player_side_recording(side, number, follows ? 1 : 0, start, from, to) === 0) return true;
      this.send({ kind: 'stands', side });
      return false;
    });
  }

  /** Makes room for a session beside now, a piece in each block; then it begins. */
  private beginSide(): void {
    const [begun] = this.beginning;
    if (!begun || this.lane.player_room(this.lane.player_side_bytes()) === 0) return;
    this.beginning.shift();
    this.lane.player_side_session(begun.side);
    this.follow(begun.side, begun.words);
  }

  private takeWords(side: number, words: ArrayBuffer, begin: boolean): void {
    if (begin && side > 0) {
      this.leaveSide(side);
      this.beginning.push({ side, words });
      while (!this.playing && this.beginning.length > 0) this.beginSide();
      return;
    }
    if (begin) {
      this.lane.player_start(sampleRate);
      this.beginning = [];
    }
    this.follow(side, words);
  }

  private follow(side: number, words: ArrayBuffer): void {
    const lane = this.lane;
    const count = words.byteLength / 8;
    const at = lane.player_words(count);
    if (at === 0) return;
    new Float64Array(lane.memory.buffer, at, count).set(new Float64Array(words));
    lane.player_take(side);
    // While nothing plays, nothing is late.
    if (!this.playing) lane.player_finish(side);
    this.still = 0;
    this.following[side] = (this.following[side] ?? 0) + 1;
    this.tellFollowed();
  }

  /** Says that words are followed, once they are, and what meters stand where then. */
  private tellFollowed(): void {
    for (const [side, messages] of this.following.entries()) {
      if (messages === 0 || this.lane.player_busy(side) !== 0) continue;
      if (side === 0) this.tellStrips();
      this.following[side] = 0;
      this.send({ kind: 'followed', side, messages });
    }
  }

  private tellStrips(): void {
    const structures = this.lane.player_structures();
    if (structures !== this.structures) {
      this.structures = structures;
      this.send({ kind: 'strips', strips: readOutput(this.lane, this.lane.player_strips()) });
    }
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] ?? [];
    if (!left || !right) return true;
    this.sinceRestart += left.length;
    this.guarded(() => this.render(left, right));
    return true;
  }

  private render(left: Float32Array, right: Float32Array): void {
    const at = this.lane.player_process(left.length);
    if (at !== 0) {
      this.planar = viewed(this.planar, this.lane, at, 2 * BLOCK);
      left.set(this.planar.subarray(0, left.length));
      right.set(this.planar.subarray(BLOCK, BLOCK + left.length));
    }
    this.tellFollowed();
    if (this.beginning.length > 0) this.beginSide();
    else if (!this.arrivals.isEmpty) this.moveArrivals();
    this.untilMeters -= left.length;
    if (this.untilMeters <= 0) this.tellMeters();
  }

  private tellWatched(): void {
    this.untilWatched -= 1;
    if (!this.watching || this.untilWatched > 0) return;
    this.untilWatched = WATCHED_EVERY;
    const at = this.lane.player_watched();
    if (at === 0) return;
    const count = 2 * this.lane.player_watched_frames();
    const values = new Float32Array(this.lane.memory.buffer, at, count).slice();
    this.port.postMessage({ kind: 'watched', values } satisfies FromWorklet, [values.buffer]);
  }

  private tellMeters(): void {
    this.untilMeters += sampleRate / METERS_PER_SECOND;
    this.untilLoudness -= 1;
    if (this.untilLoudness <= 0) {
      this.untilLoudness = LOUDNESS_EVERY;
      this.lufs = this.lane.player_short_term_lufs();
    }
    this.tellWatched();
    const at = this.lane.player_meters();
    const count = this.lane.player_meter_values();
    if (at === 0 || count === 0) return;
    this.meters = viewed(this.meters, this.lane, at, count);
    // Once all has rung out, nothing is said until something happens.
    this.still = this.playing || this.meters.some((value) => value !== 0) ? 0 : this.still + 1;
    if (this.still > STILL) return;
    const room = this.spent.pop();
    const values = room?.length === this.meters.length ? room : new Float32Array(this.meters.length);
    values.set(this.meters);
    const message: FromWorklet = {
      kind: 'meters',
      position: this.lane.player_position(),
      playing: this.playing,
      values,
      lufs: this.lufs,
      truePeak: this.lane.player_true_peak(),
      fault: this.lane.player_fault(),
    };
    this.port.postMessage(message, [values.buffer]);
  }
}

/** A view of the module's memory; the one from before where it still is that. */
function viewed(
  view: Float32Array<ArrayBuffer>,
  lane: LaneExports,
  at: number,
  count: number,
): Float32Array<ArrayBuffer> {
  const { buffer } = lane.memory;
  if (view.buffer === buffer && view.byteOffset === at && view.length === count) return view;
  return new Float32Array(buffer as ArrayBuffer, at, count);
}

registerProcessor('lane', LaneProcessor);
