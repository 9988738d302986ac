/** The engine in the audio thread: messages in, blocks and meters out, nothing else. */
import type { FromWorklet, ToWorklet } from './messages';
import { instantiate, readOutput, writeInput, type LaneExports } from './wasm';

const BLOCK = 128;
/** Meters are sent about 60 times a second. */
const METERS_PER_SECOND = 60;
/** Short-term loudness is read a tenth as often as peaks; it moves slowly and costs more. */
const LOUDNESS_EVERY = 6;

class LaneProcessor extends AudioWorkletProcessor {
  private readonly lane: LaneExports;
  private playing = false;
  private untilMeters = 0;
  private untilLoudness = 0;
  private lufs = -Infinity;

  constructor(options: { processorOptions: { module: WebAssembly.Module } }) {
    super();
    this.lane = instantiate(options.processorOptions.module);
    this.port.onmessage = (event: MessageEvent<ToWorklet>) => this.take(event.data);
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
    const at = this.lane.player_process(left.length);
    if (at !== 0) {
      const planar = new Float32Array(this.lane.memory.buffer, at, 2 * BLOCK);
      left.set(planar.subarray(0, left.length));
      right.set(planar.subarray(BLOCK, BLOCK + left.length));
    }
    this.untilMeters -= left.length;
    if (this.untilMeters <= 0) this.tellMeters();
    return true;
  }

  private tellMeters(): void {
    this.untilMeters += sampleRate / METERS_PER_SECOND;
    this.untilLoudness -= 1;
    if (this.untilLoudness <= 0) {
      this.untilLoudness = LOUDNESS_EVERY;
      this.lufs = this.lane.player_short_term_lufs();
    }
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
