/**
 * What sides beside now cost in the browser's module: blocks of 128 frames of one session by itself, with one and with two other
 * states of it, in turn.
 *
 *   cargo run -p lane-wasm --example native_bits -- /tmp/bench bench
 *   (cd e2e && npx tsc && node bench/sides.mjs /tmp/bench/heavy)
 */
import { deadline, moduleBytes, openEngine, per, readFolder } from './engine.mjs';

const [folder] = process.argv.slice(2);
if (!folder) throw new Error('usage: node bench/sides.mjs FOLDER');
const { session, assets } = readFolder(folder);
const bytes = moduleBytes();

/** An engine with so many states of the session beside now, all playing. */
async function withSides(count) {
  const engine = await openEngine({ bytes, session, assets });
  const { desk, lane, ask } = engine;
  for (let side = 1; side <= count; side += 1) {
    ask(() => desk.desk_side(side), { document: session });
    const length = desk.desk_side_engine(side, 1);
    const words = new Float64Array(new Uint8Array(desk.memory.buffer, desk.output(), length).slice().buffer);
    lane.player_side_session(side);
    const at = lane.player_words(words.length);
    new Float64Array(lane.memory.buffer, at, words.length).set(words);
    lane.player_take(side);
    lane.player_finish(side);
  }
  // The last one is heard.
  lane.player_hear(count, 0, 0, 0);
  lane.player_loop(0, 20 * session.header.sample_rate);
  lane.player_play();
  return lane;
}

const timed = (work) => {
  const start = performance.now();
  work();
  return performance.now() - start;
};
const lanes = await Promise.all([0, 1, 2].map(withSides));
const BLOCKS = 750;
const ROUNDS = 24;
const taken = [[], [], []];
for (let round = 0; round < ROUNDS; round += 1) {
  for (const [n, lane] of lanes.entries()) {
    const start = performance.now();
    for (let block = 0; block < BLOCKS; block += 1) lane.player_process(128);
    taken[n].push((performance.now() - start) / BLOCKS);
  }
}
const half = (list) => list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)];
const [one, two, three] = taken.map(half);
console.log(`now alone ${per(one)}, with one side ${per(two)}, with two ${per(three)}`);
console.log(`two sides are ${(two / one).toFixed(2)} times one, three ${(three / one).toFixed(2)} times`);
console.log(`two of them take ${((100 * two) / deadline).toFixed(0)} % of the deadline`);

// What a side takes at once while it plays: where it begins, in the worst block that follows, and where it goes.
const engine = await openEngine({ bytes, session, assets });
const { desk, lane, ask } = engine;
lane.player_play();
const begun = [];
/** The least that each block took in any round: what it takes when nothing else runs. */
const least = [];
const gone = [];
for (let round = 0; round < 20; round += 1) {
  lane.player_seek(0);
  ask(() => desk.desk_side(1), { document: session });
  const length = desk.desk_side_engine(1, 1);
  const words = new Float64Array(new Uint8Array(desk.memory.buffer, desk.output(), length).slice().buffer);
  while (lane.player_room(lane.player_side_bytes()) === 0) lane.player_process(128);
  begun.push(timed(() => lane.player_side_session(1)));
  const at = lane.player_words(words.length);
  new Float64Array(lane.memory.buffer, at, words.length).set(words);
  lane.player_take(1);
  for (let block = 0; block < 1500; block += 1) {
    if (block % 100 === 50) lane.player_hear((block / 50) % 2 === 1 ? 1 : 0, -1, 0, 0);
    const took = timed(() => lane.player_process(128));
    least[block] = Math.min(took, least[block] ?? Infinity);
  }
  gone.push(timed(() => lane.player_side_nothing(1)));
}
console.log(
  `begins in ${per(half(begun))}, its worst block while it is made and switched ${per(Math.max(...least))}, goes in ${per(half(gone))}`,
);
