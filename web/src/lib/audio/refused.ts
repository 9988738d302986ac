/** What the core refused, as a sentence. */
export class Refused extends Error {}
