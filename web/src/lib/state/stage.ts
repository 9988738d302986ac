/** The stages by their ids, and what the board has to know of each; what they look like stands in `stages/registry.ts`. */
export type Stage = 'bring-in' | 'route' | 'levels' | 'shape' | 'duck' | 'parallel' | 'compare' | 'track-out';

export interface StageFacts {
  id: Stage;
  name: string;
  /** The key that opens it. */
  key: string;
  /** What its bench can be about. */
  tabs?: readonly { id: string; name: string }[];
  /** Of those, where it begins, if not with the first. */
  begins?: string;
  /** Height of its bench in pixels where nobody changed it. */
  benchHeight: number;
}
