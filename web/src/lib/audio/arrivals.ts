/** Audio on its way into the engine, a piece in each block, so that no block is late for it. */
import type { LaneExports } from './wasm';

/** Samples that go over in one block. */
export const PIECE = 16_384;

interface Arrival {
  number: number;
  channels: number;
  pcm: ArrayBuffer;
}

type Lane = Pick<LaneExports, 'memory' | 'player_room' | 'player_incoming' | 'player_piece' | 'player_came'>;

export class Arrivals {
  private waiting: Arrival[] = [];
  private samples = new Float32Array(0);
  /** Samples of the first that went over; none where it is not begun. */
  private done: number | undefined;

  get isEmpty(): boolean {
    return this.waiting.length === 0;
  }

  push(arrival: Arrival): void {
    this.waiting.push(arrival);
  }

  clear(): void {
    [this.waiting, this.done] = [[], undefined];
  }

  /** Moves the next piece over; gives whether a sound is whole with it. */
  move(lane: Lane): boolean {
    const arrival = this.waiting[0];
    if (!arrival) return false;
    const { number, channels, pcm } = arrival;
    if (this.done === undefined) {
      if (lane.player_room(pcm.byteLength) === 0) return false;
      this.samples = new Float32Array(pcm);
      lane.player_incoming(number, channels, Math.floor(this.samples.length / channels));
      this.done = 0;
    }
    const piece = this.samples.subarray(this.done, this.done + PIECE);
    const at = lane.player_piece(Math.ceil(piece.length / channels));
    if (at !== 0) new Float32Array(lane.memory.buffer, at, piece.length).set(piece);
    this.done += piece.length;
    const came = lane.player_came();
    if (came === 0 && this.done < this.samples.length) return false;
    this.waiting.shift();
    [this.samples, this.done] = [new Float32Array(0), undefined];
    return came === 1;
  }
}
