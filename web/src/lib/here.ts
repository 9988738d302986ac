/** Small things that this browser keeps for whoever uses it. One that keeps nothing, or whose room is full, goes on without. */

/** What is kept under a key; nothing where that is nothing, or cannot be read. */
export function keptHere<T>(key: string): T | undefined {
  try {
    return (JSON.parse(localStorage.getItem(key) ?? 'null') as T | null) ?? undefined;
  } catch {
    return undefined;
  }
}

/** Keeps something under a key; nothing forgets it. */
export function keepHere(key: string, what: unknown): void {
  try {
    if (what === undefined) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(what));
  } catch {
    // It is for convenience alone.
  }
}
