/** Renders of the session: started, followed, stopped. */
import { api } from '$lib/api/client';
import type { RenderLine, StemPlan } from '$lib/api/types';
import type { StemPreview } from '$lib/audio/desk';
import { Refused } from '$lib/audio/refused';
import { Pauses } from '$lib/sync/pauses';
import type { SessionState } from '$lib/state/session.svelte';

/** How often a render under way is asked about, in ms. */
const ASK_MS = 300;

export class TrackOut {
  renders = $state<RenderLine[]>([]);
  problem = $state('');
  private readonly pauses = new Pauses();
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly session: SessionState,
    /** Keeps the session as it is, by a name. */
    private readonly before: (name: string) => Promise<void>,
  ) {}

  latest = $derived(this.renders[0]);
  running = $derived(this.latest?.status === 'queued' || this.latest?.status === 'running');
  lastDone = $derived(this.renders.find((r) => r.status === 'done'));

  /** What tracking out now would give, or why it cannot. */
  preview = $derived.by((): StemPreview | { error: string } => {
    // The desk holds the same document; reading it here makes this follow its changes.
    void this.session.doc;
    try {
      return this.session.desk.stems(this.session.rendersStarted + 1);
    } catch (error) {
      if (error instanceof Refused) return { error: error.message };
      throw error;
    }
  });

  setPlan(change: Partial<StemPlan>): void {
    this.session.apply({ kind: 'set_stem_plan', plan: { ...this.session.doc.stem_plan, ...change } });
  }

  async start(): Promise<void> {
    await this.attempt(async () => {
      // What is rendered is what the server has.
      await this.before(`Before render ${this.session.rendersStarted + 1}`);
      await this.session.settled();
      await api.startRender(this.session.id);
      this.session.rendersStarted += 1;
      await this.refresh();
    });
  }

  async cancel(): Promise<void> {
    const render = this.latest;
    if (render) await this.attempt(() => api.cancelRender(render.id));
    await this.refresh();
  }

  async remove(id: string): Promise<void> {
    await this.attempt(() => api.removeRender(id));
    await this.refresh();
  }

  private async attempt(work: () => Promise<void>): Promise<void> {
    this.problem = '';
    try {
      await work();
    } catch (error) {
      this.problem = (error as Error).message;
    }
  }

  /** Asks where renders stand, and again while one is under way. */
  async refresh(): Promise<void> {
    clearTimeout(this.timer);
    try {
      this.renders = await api.renders(this.session.id);
      this.pauses.reset();
    } catch (error) {
      this.problem = (error as Error).message;
      this.timer = setTimeout(() => void this.refresh(), this.pauses.grow());
      return;
    }
    if (this.running) this.timer = setTimeout(() => void this.refresh(), ASK_MS);
  }

  close(): void {
    clearTimeout(this.timer);
  }
}
