// Made by `cargo xtask types`.
import type { Ducker } from "./Ducker";
import type { DuckerWaves } from "./DuckerWaves";
import type { PairFigures } from "./PairFigures";
import type { Room } from "./Room";
import type { Solved } from "./Solved";

/**
 * What was heard of duckers.
 */
export type Ducked = { 
/**
 * In the order of strips and chains.
 */
duckers: Array<Ducker>, 
/**
 * Around each of them, in the same order.
 */
waves: Array<DuckerWaves>, 
/**
 * Settings that were asked for; nothing where its kind has none.
 */
solved: Solved | null, 
/**
 * What the one that is looked at does to what it ducks and its key together; nothing beside a question.
 */
pair: PairFigures | null, 
/**
 * A way to make room, where that was asked for.
 */
room: Room | null, };
