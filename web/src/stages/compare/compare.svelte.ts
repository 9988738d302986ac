/** How it sounds without a processor or a chain, as loud as with. What is heard never gets louder than it was: where without
 *  has to come up, main goes down by as much for both. Without any processor is a side like others. */
import type { Bypass, Processor, Strip } from '$lib/api/types';
import type { Player } from '$lib/audio/player.svelte';
import type { Gauge, LevelsReading } from '$lib/state/gauge.svelte';
import type { SessionState } from '$lib/state/session.svelte';

/** What is passed by. */
export type Scope = 'processor' | 'chain';

export interface Without {
  scope: Scope;
  /** The strip, and the processor where it is one. */
  strip: number;
  processor: number;
  /** Whether it is heard without, or with at the same loudness. */
  heard: 'with' | 'without';
  /** What makes it as loud as with, in dB; 0 where it was silent over the loop. */
  offset: number;
  /** By how much main is down meanwhile, in dB. */
  down: number;
  /** Loudness with and without in LUFS. */
  lufs: { with: number | null; without: number | null };
  doc: unknown;
}

const loudness = (reading: LevelsReading, strip: number, at: (station: unknown) => boolean): number | null =>
  reading.found.measured.strips.find((s) => s.strip === strip)?.stations.find((s) => at(s.station))?.lufs ??
  null;
const after = (processor: Processor | undefined) => (station: unknown) =>
  processor === undefined
    ? station === 'trimmed'
    : typeof station === 'object' && (station as { processor: number }).processor === processor.id;

export class Compare {
  now = $state.raw<Without>();

  constructor(
    private readonly session: SessionState,
    private readonly player: Player,
    private readonly gauge: Gauge,
  ) {}

  /** Whether the session has changed since its loudness was measured. */
  get stale(): boolean {
    return this.now !== undefined && this.now.doc !== this.session.settledDoc;
  }

  /** Whether this is what is passed by. */
  is(scope: Scope, strip = 0, processor = 0): boolean {
    const { now } = this;
    return now?.scope === scope && now.strip === strip && now.processor === processor;
  }

  end(): void {
    this.now = undefined;
    this.player.passBy({ processors: [], main_db: 0 });
  }

  /** With again, or without, at the same loudness. */
  flip(): void {
    if (!this.now) return;
    const heard = this.now.heard === 'with' ? 'without' : 'with';
    this.pass({ ...this.now, heard }, this.without);
  }

  /** What is passed by where it is heard without; main at what the offset asks of it. */
  private without: Bypass = { processors: [], main_db: 0 };

  private pass(now: Without, without: Bypass): void {
    this.now = now;
    this.without = without;
    const { processors, main_db } = now.heard === 'with' ? { processors: [], main_db: 0 } : without;
    this.player.passBy({ processors, main_db: main_db - now.down });
  }

  private offset(scope: Scope, lufs: Without['lufs'], strip = 0, processor = 0): Without {
    const offset = lufs.with !== null && lufs.without !== null ? lufs.with - lufs.without : 0;
    const down = Math.max(0, offset);
    return { scope, strip, processor, heard: 'without', offset, down, lufs, doc: this.session.settledDoc };
  }

  /** Without one processor of a strip. */
  async processor(strip: Strip, processor: Processor): Promise<void> {
    const reading = await this.gauge.measure('Measuring with and without');
    if (!reading) return;
    const before = strip.chain[strip.chain.findIndex((p) => p.id === processor.id) - 1];
    const lufs = {
      with: loudness(reading, strip.id, after(processor)),
      without: loudness(reading, strip.id, after(before)),
    };
    const now = this.offset('processor', lufs, strip.id, processor.id);
    this.pass(now, { processors: [[processor.id, now.offset]], main_db: 0 });
  }

  /** Without the chain of a strip. */
  async chain(strip: Strip): Promise<void> {
    const reading = await this.gauge.measure('Measuring with and without');
    if (!reading) return;
    const lufs = {
      with: loudness(reading, strip.id, after(strip.chain.at(-1))),
      without: loudness(reading, strip.id, after(undefined)),
    };
    const now = this.offset('chain', lufs, strip.id);
    const last = strip.chain.at(-1)?.id;
    const processors = strip.chain.map((p): [number, number] => [p.id, p.id === last ? now.offset : 0]);
    this.pass(now, { processors, main_db: 0 });
  }

  /** The same again for the session as it is now. */
  async again(): Promise<void> {
    const { now } = this;
    const strip = this.session.doc.strips.find((s) => s.id === now?.strip);
    const processor = strip?.chain.find((p) => p.id === now?.processor);
    if (strip && now?.scope === 'chain') return this.chain(strip);
    if (strip && processor) return this.processor(strip, processor);
    this.end();
  }
}
