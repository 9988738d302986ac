/** Small things that this browser keeps for whoever uses it. One that keeps nothing, or whose room is full, goes on without. */

/** What is kept under a key; nothing where that is nothing, or cannot be read. A text from before all was JSON is a text. */
export function keptHere<T>(key: string): T | undefined {
  let text: string | null = null;
  try {
    text = localStorage.getItem(key);
    return (JSON.parse(text ?? 'null') as T | null) ?? undefined;
  } catch {
    return (text as T | null) ?? undefined;
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
