/** Rounds in which sides are heard without names: which is preferred, and whether they can be told apart. */
import type { Desk } from '$lib/audio/desk';
import { keepHere, keptHere } from '$lib/here';
import type { Sides } from './sides.svelte';

/** Which is better; or which of two the unknown one is. */
export type BlindKind = 'preference' | 'recognition';

/** What can be heard in a round: a place of the round's order, or the unknown one. */
export type Unnamed = number | 'x';

interface Round {
  kind: BlindKind;
  number: number;
  /** Sides by the places that they have in this round. */
  order: number[];
  /** The place that the unknown one is, of two. */
  unknown: number;
  heard: Unnamed | undefined;
  /** The place that was chosen, once the round is told. */
  chosen: number | undefined;
}

/** Answers as they are kept. */
interface Kept extends Pick<Round, 'kind' | 'number'> {
  /** The sides that they are of. */
  keys: string;
  seed: number;
  preferred: Record<string, number>;
  rounds: number;
  right: number;
}

export class Blind {
  round = $state.raw<Round>();
  /** How often each side was preferred, by its key. */
  preferred = $state.raw<Record<string, number>>({});
  rounds = $state(0);
  right = $state(0);
  private seed = 0;

  constructor(
    private readonly sides: Sides,
    private readonly desk: Desk,
    private readonly newSeed: () => number = () => crypto.getRandomValues(new Uint32Array(1))[0] ?? 1,
  ) {}

  /** How likely it is to be right as often without hearing a difference, in 0 to 1. */
  chance = $derived.by(() => this.desk.chance(this.right, this.rounds));

  /** Begins, with all sides measured first, so that none is told by how loud it is. */
  async start(kind: BlindKind): Promise<void> {
    const { sides } = this;
    if (sides.others.length === 0) return;
    sides.hidden = true;
    if (!(await sides.measure())) {
      sides.hidden = false;
      return;
    }
    const kept = this.kept(kind);
    this.seed = kept?.seed ?? this.newSeed();
    [this.preferred, this.rounds, this.right] = [kept?.preferred ?? {}, kept?.rounds ?? 0, kept?.right ?? 0];
    this.draw(kind, kept ? kept.number + 1 : 0);
  }

  /** Where the browser keeps answers until a comparison is ended. */
  private get place(): string {
    return `blind ${this.sides.of}`;
  }

  private get keys(): string {
    return this.sides.all.map((side) => side.key).join(' ');
  }

  /** What was answered of these sides before the page was opened anew. */
  private kept(kind: BlindKind): Kept | undefined {
    const kept = keptHere<Kept>(this.place);
    return kept?.kind === kind && kept.keys === this.keys ? kept : undefined;
  }

  private remember(): void {
    const { round, keys, seed, preferred, rounds, right } = this;
    if (!round) return;
    const kept: Kept = { kind: round.kind, number: round.number, keys, seed, preferred, rounds, right };
    keepHere(this.place, kept);
  }

  private draw(kind: BlindKind, number: number): void {
    // Two sides are told apart at a time.
    const count = kind === 'recognition' ? 2 : this.sides.all.length;
    const { order, unknown } = this.desk.blind(this.seed, number, count);
    this.round = { kind, number, order, unknown, heard: undefined, chosen: undefined };
    this.hear(kind === 'recognition' ? 'x' : 0);
  }

  /** Sides of the round by their places; of recognition as they are called, A and B. */
  private sideAt(round: Round, which: Unnamed): number {
    const place = which === 'x' ? round.unknown : which;
    return round.kind === 'recognition' ? place : (round.order[place] ?? 0);
  }

  hear(which: Unnamed): void {
    const { round } = this;
    if (!round) return;
    this.round = { ...round, heard: which };
    void this.sides.hear(this.sideAt(round, which));
  }

  /** Prefers a place; or says which one the unknown one is. Then the round is told. */
  choose(place: number): void {
    const { round, sides } = this;
    if (!round || round.chosen !== undefined) return;
    this.rounds += 1;
    if (round.kind === 'recognition') {
      if (place === round.unknown) this.right += 1;
    } else {
      const key = sides.all[this.sideAt(round, place)]?.key ?? '';
      this.preferred = { ...this.preferred, [key]: (this.preferred[key] ?? 0) + 1 };
    }
    this.round = { ...round, chosen: place };
    this.remember();
  }

  /** What stands at a place, once the round is told. */
  nameAt(place: number): string | undefined {
    const { round } = this;
    return round?.chosen === undefined ? undefined : this.sides.all[this.sideAt(round, place)]?.name;
  }

  again(): void {
    if (this.round) this.draw(this.round.kind, this.round.number + 1);
  }

  end(): void {
    if (this.round) keepHere(this.place, undefined);
    this.round = undefined;
    this.sides.hidden = false;
    void this.sides.hear(0);
  }
}
