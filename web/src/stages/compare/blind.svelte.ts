/** Rounds in which sides are heard without names: which is preferred, and whether they can be told apart. */
import type { Desk } from '$lib/audio/desk';
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
    this.seed = this.newSeed();
    [this.preferred, this.rounds, this.right] = [{}, 0, 0];
    this.draw(kind, 0);
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
    this.round = undefined;
    this.sides.hidden = false;
    void this.sides.hear(0);
  }
}
