/** Files on their way into the session: read one by one, brought in together. */
import { api } from '$lib/api/client';
import type { AssetRef, BroughtIn, Edit, NewVoice } from '$lib/api/types';
import type { SessionState } from './session.svelte';

/** Files sent at a time. */
const UPLOADS = 4;

export interface Refusal {
  file: string;
  reason: string;
}

export class BringIn {
  total = $state(0);
  done = $state(0);
  running = $state(false);
  refused = $state<Refusal[]>([]);
  /** What was taken otherwise, for people. */
  remarks = $state<string[]>([]);
  private stopper: AbortController | undefined;

  constructor(private readonly session: SessionState) {}

  cancel = (): void => this.stopper?.abort();

  async take(files: File[]): Promise<void> {
    if (this.running || files.length === 0) return;
    const stopper = new AbortController();
    this.stopper = stopper;
    [this.running, this.total, this.done, this.refused, this.remarks] = [true, files.length, 0, [], []];
    const results = new Array<BroughtIn | undefined>(files.length);
    let next = 0;
    const work = async () => {
      while (next < files.length && !stopper.signal.aborted) {
        const at = next;
        next += 1;
        const file = files[at] as File;
        try {
          results[at] = await api.bringIn(this.session.id, file, stopper.signal);
        } catch (error) {
          if (stopper.signal.aborted) return;
          const reason = error instanceof Error ? error.message : String(error);
          this.refused.push({ file: file.name, reason });
        }
        this.done += 1;
      }
    };
    await Promise.all(Array.from({ length: UPLOADS }, work));
    this.running = false;
    if (!stopper.signal.aborted) this.apply(results.filter((r) => r !== undefined));
  }

  private apply(results: BroughtIn[]): void {
    const voices: NewVoice[] = [];
    const assets: AssetRef[] = [];
    const edits: Edit[] = [];
    for (const result of results) {
      if (result.kind === 'midi') {
        edits.push({ kind: 'add_take', take: result.take, sounds: result.sounds });
        this.remarks.push(...result.take.remarks);
        continue;
      }
      const { name, family, asset } = result;
      const source: NewVoice['source'] =
        result.kind === 'recording'
          ? { kind: 'recording', asset: asset.id, start_ticks: 0 }
          : {
              kind: 'one_shot',
              layers: [{ asset: asset.id, gain_db: 0, tune_ct: 0 }],
              hold: { kind: 'whole' },
            };
      voices.push({ name, family, source, output: null, hits: [] });
      assets.push(asset);
    }
    // Samples first, so that the notes of a take dropped with them find their lanes.
    if (voices.length > 0) edits.unshift({ kind: 'add_voices', voices, assets });
    if (edits.length > 0)
      this.session.apply(edits.length === 1 ? (edits[0] as Edit) : { kind: 'batch', edits });
  }
}
