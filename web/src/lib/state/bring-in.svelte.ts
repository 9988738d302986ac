/** Files on their way into the session: unpacked, read one by one, brought in together. */
import { api } from '$lib/api/client';
import type { AssetRef, BroughtIn, Edit, Layer, NewVoice } from '$lib/api/types';
import type { BoardState } from './board.svelte';
import type { SessionState } from './session.svelte';
import { unpacked, type Entry } from './unpack';

/** Files sent at a time. */
const UPLOADS = 4;

export interface Refusal {
  file: string;
  reason: string;
}

/** The whole sample as it is. */
export const plainLayer = (asset: string): Layer => ({
  asset,
  gain_db: 0,
  tune_ct: 0,
  start_frame: 0,
  end_frame: null,
  reverse: false,
  fade_in: { ms: 0, curve_percent: 0 },
  decay: null,
  sweep: null,
  velocity_percent: 100,
});

export class BringIn {
  total = $state(0);
  done = $state(0);
  running = $state(false);
  refused = $state<Refusal[]>([]);
  /** What was taken otherwise, for people. */
  remarks = $state<string[]>([]);
  private stopper: AbortController | undefined;

  constructor(
    private readonly session: SessionState,
    private readonly board: BoardState,
  ) {}

  cancel = (): void => this.stopper?.abort();

  async take(entries: Entry[]): Promise<void> {
    if (this.running || entries.length === 0) return;
    const stopper = new AbortController();
    this.stopper = stopper;
    [this.running, this.total, this.done, this.refused, this.remarks] = [true, entries.length, 0, [], []];
    const results: BroughtIn[][] = entries.map(() => []);
    let next = 0;
    const work = async () => {
      while (next < entries.length && !stopper.signal.aborted) {
        const at = next;
        next += 1;
        await this.bring(entries[at] as Entry, results[at] as BroughtIn[], stopper.signal);
        this.done += 1;
      }
    };
    await Promise.all(Array.from({ length: UPLOADS }, work));
    this.running = false;
    if (!stopper.signal.aborted) this.apply(results.flat());
  }

  /** One dropped file, with what is packed in it. */
  private async bring(entry: Entry, into: BroughtIn[], signal: AbortSignal): Promise<void> {
    for await (const found of unpacked(entry, signal)) {
      if (signal.aborted) return;
      try {
        if ('reason' in found) throw new Error(found.reason);
        into.push(await api.bringIn(this.session.id, found.file, found.path, signal));
      } catch (error) {
        if (signal.aborted) return;
        const reason = error instanceof Error ? error.message : String(error);
        this.refused.push({ file: found.path, reason });
      }
    }
  }

  private apply(results: BroughtIn[]): void {
    const rate = this.session.doc.header.sample_rate;
    const recordings = results.filter((r) => r.kind === 'recording');
    const times = recordings.map((r) => r.time_reference);
    // Only where all recordings say when they began can they be put in their places.
    const aligned = recordings.length > 1 && times.every((t) => t !== null);
    const earliest = aligned ? Math.min(...times.map(Number)) : 0;
    const voices: NewVoice[] = [];
    const assets: AssetRef[] = [];
    const edits: Edit[] = [];
    for (const result of results) {
      if (result.kind === 'midi') {
        edits.push({ kind: 'add_take', take: result.take, sounds: result.sounds });
        this.remarks.push(...result.take.remarks.map((r) => `${result.take.name}: ${r}`));
        continue;
      }
      const { name, family, asset } = result;
      const start_frame = aligned ? Number(result.time_reference) - earliest : 0;
      const source: NewVoice['source'] =
        result.kind === 'recording'
          ? { kind: 'recording', asset: asset.id, start_frame }
          : { kind: 'one_shot', layers: [plainLayer(asset.id)], hold: { kind: 'whole' } };
      voices.push({ name, family, source, output: null, hits: [] });
      assets.push(asset);
    }
    if (aligned) {
      const latest = (Math.max(...times.map(Number)) - earliest) / rate;
      this.remarks.push(
        `Recordings stand at their time references, the last ${latest.toFixed(3)} s after the first.`,
      );
    }
    // Samples first, so that the notes of a take dropped with them find their lanes.
    if (voices.length > 0) edits.unshift({ kind: 'add_voices', voices, assets });
    if (edits.length > 0) {
      const before = this.board.rows.length;
      this.session.apply(edits.length === 1 ? (edits[0] as Edit) : { kind: 'batch', edits });
      const made = this.board.rows.filter((r) => r.voice)[before > 2 ? -1 : 0];
      if (made) this.board.select(made.key);
    }
    this.board.tab =
      this.refused.length > 0 ? 'files' : results.some((r) => r.kind === 'midi') ? 'takes' : 'sound';
  }
}
