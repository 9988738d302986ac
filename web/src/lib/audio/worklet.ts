/** The engine in the audio thread: messages in, blocks and meters out, nothing else. */
import type { FromWorklet, ToWorklet } from './messages';
import { instantiate, readOutput, writeInput, type LaneExports } from './wasm';

const BLOCK = 128;
/** Meters are sent about 60 times a second. */
const METERS_PER_SECOND = 60;
/** Short-term loudness is read a tenth as often as peaks; it moves slowly and costs more. */
const LOUDNESS_EVERY = 6;
/** What is watched is sent every so many messages of meters: 15 times a second. */
const WATCHED_EVERY = 4;

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

  constructor(options: { processorOptions: { module: WebAssembly.Module } }) {
    super();
    this.module = options.processorOptions.module;
    this.lane = instantiate(this.module);
    this.port.onmessage = (event: MessageEvent<ToWorklet>) => this.guarded(() => this.take(event.data));
  }

  /** Runs the engine. A trap in it ends its instance; a new one begins, and the page is asked for the session. */
  private guarded(run: () => void): void {
    try {
      run();
    } catch (error) {
      if (!(error instanceof WebAssembly.RuntimeError)) throw error;
      const soon = this.sinceRestart < 2 * sampleRate;
      this.sinceRestart = 0;
      this.lane = instantiate(this.module);
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
      case 'open':
        writeInput(lane, message.session);
        return this.tellStrips(lane.player_open());
      case 'patch':
        writeInput(lane, message.patch);
        return this.tellStrips(lane.player_patch());
      case 'asset':
        writeInput(lane, message.id, new Uint8Array(message.pcm));
        lane.player_asset(message.channels);
        return;
      case 'play':
        this.playing = true;
        return lane.player_play();
      case 'stop':
        this.playing = false;
        return lane.player_stop();
      case 'seek':
        return lane.player_seek(message.frame);
      case 'loop':
        return lane.player_loop(message.from, message.to);
      case 'audition':
        return lane.player_audition(message.voice, message.layer, message.tuneSt);
      case 'listen':
        return lane.player_listen(message.strip, message.processor);
      case 'passBy':
        writeInput(lane, message.bypass);
        lane.player_pass_by();
        return;
      case 'watch':
        this.watching = message.strip > 0;
        return lane.player_watch(message.strip, message.processor);
    }
  }

  private tellStrips(length: number): void {
    const answer = readOutput(this.lane, length);
    // The answer is a list, or an object with an error.
    if (answer[0] !== 0x5b) return this.send({ kind: 'failed', answer });
    this.send({ kind: 'strips', strips: answer });
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
      const planar = new Float32Array(this.lane.memory.buffer, at, 2 * BLOCK);
      left.set(planar.subarray(0, left.length));
      right.set(planar.subarray(BLOCK, BLOCK + left.length));
    }
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
    if (at === 0) return;
    const count = this.lane.player_meter_values();
    this.send({
      kind: 'meters',
      position: this.lane.player_position(),
      playing: this.playing,
      values: new Float32Array(this.lane.memory.buffer, at, count).slice(),
      lufs: this.lufs,
      truePeak: this.lane.player_true_peak(),
      fault: this.lane.player_fault(),
    });
  }
}

registerProcessor('lane', LaneProcessor);
