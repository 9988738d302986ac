/** What the page threw and nobody caught: told, sent to the log once, and the end of this life of the page. */
import { api } from '$lib/api/client';
import type { PageFault } from '$lib/api/types';

/** What browsers report though nothing was lost by it. */
const HARMLESS = /ResizeObserver loop|Script error/;
/** What is called off on purpose is no fault. */
const CALLED_OFF = ['AbortError'];

export class Faults {
  /** What was thrown first; nothing as long as all is well. */
  first = $state<string>();

  constructor(private readonly tell: (fault: PageFault) => Promise<void> = (fault) => api.tellFault(fault)) {}

  /** Something that was thrown. */
  came(thrown: unknown, place = ''): void {
    const what = thrown instanceof Error ? `${thrown.name}: ${thrown.message}` : String(thrown);
    if (HARMLESS.test(what) || (thrown instanceof Error && CALLED_OFF.includes(thrown.name))) return;
    if (this.first !== undefined) return;
    this.first = what;
    const whereabouts = `${location.pathname} ${place} ${thrown instanceof Error ? (thrown.stack ?? '') : ''}`;
    // Where the log cannot be reached, the person still knows.
    this.tell({ what, whereabouts }).catch(() => undefined);
  }

  /** Hears of everything that nobody caught, until it is ended by what it gives. */
  watch(page: EventTarget = window): () => void {
    const thrown = (event: Event) => {
      const { error, message, filename, lineno } = event as ErrorEvent;
      this.came(error ?? message, `${filename}:${lineno}`);
    };
    const refused = (event: Event) => this.came((event as PromiseRejectionEvent).reason);
    page.addEventListener('error', thrown);
    page.addEventListener('unhandledrejection', refused);
    return () => {
      page.removeEventListener('error', thrown);
      page.removeEventListener('unhandledrejection', refused);
    };
  }
}
