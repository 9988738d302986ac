/** Hears of revisions as the server tells them, and does not trust a silence: a computer that slept or a network that
 *  changed leaves connections that stay open and bring nothing. */
import { Pauses } from './pauses';

/** The server says where a session stands every 20 s; after so many ms without a word, it is asked anew. */
export const SILENT_MS = 50_000;
/** How often that is looked at. Timers rest while a computer sleeps, so the first look after it finds the silence. */
const LOOK_MS = 5000;

/** Calls `heard` with every revision that is told, until it is ended by what it gives. */
export function followRevisions(
  listen: () => EventSource,
  heard: (revision: number) => void,
  network: EventTarget = window,
): () => void {
  let events: EventSource;
  let later: ReturnType<typeof setTimeout> | undefined;
  let word = performance.now();
  const pauses = new Pauses();
  const begin = () => {
    word = performance.now();
    events = listen();
    events.addEventListener('revision', (event) => {
      word = performance.now();
      pauses.reset();
      heard(Number((event as MessageEvent<string>).data));
    });
    // The browser listens again after a lost connection, but not after an answer such as 503.
    events.addEventListener('error', () => {
      if (events.readyState === events.CLOSED) later = setTimeout(begin, pauses.grow());
    });
  };
  const anew = () => {
    clearTimeout(later);
    events.close();
    begin();
  };
  begin();
  const looking = setInterval(() => {
    if (performance.now() - word > SILENT_MS) anew();
  }, LOOK_MS);
  network.addEventListener('online', anew);
  return () => {
    clearTimeout(later);
    clearInterval(looking);
    events.close();
    network.removeEventListener('online', anew);
  };
}
