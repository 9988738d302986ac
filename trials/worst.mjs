/** One account sends the worst that it can think of; another asks whether the program is well. */
import { randomUUID } from 'node:crypto';
import { Caller, change, freePort, Kept, newSession, sleep } from './program.mjs';

const port = await freePort();
const address = `http://127.0.0.1:${port}`;
const server = new Kept(['serve', '--listen', `127.0.0.1:${port}`]);
const caller = new Caller(address);
await caller.signUp();
const session = await newSession(caller);

const batch = (edits) => ({ kind: 'batch', edits });
const many = (n, make) => Array.from({ length: n }, (_, at) => make(at));
const voice = (n) => ({ name: 'Kick', family: 'low', source: { kind: 'empty' }, output: null, hits: [] });
const notes = many(200_000, (n) => [n % 64, n % 16, n % 128, 100, n * 20, 60]);
const hits = many(20_000, (n) => ({ at_ticks: n % 7680, length_ticks: 10, velocity: 100, tune_st: 0 }));
const worst = {
  '512 voices of one name': { kind: 'add_voices', assets: [], voices: many(500, voice) },
  '100,000 sections': batch(many(100_000, () => ({ kind: 'add_section', name: 'B', pattern: 3, bars: 1, at: 0 }))),
  '1,000 edits of all rows': batch(many(999, (n) => ({ kind: 'set_strips', strips: many(1000, () => 2), change: { what: 'fader_db', to: -(n % 90) } }))),
  '256 patterns': batch(many(250, (n) => ({ kind: 'add_pattern', name: `P${n}`, bars: 2, copy_of: 3 }))),
  'a take of 200,000 notes': { kind: 'add_take', sounds: [], take: { name: 't', tracks: [], notes, tempo_bpm: 400, metre: null, remarks: [] } },
  '20,000 hits': { kind: 'set_hits', pattern: 3, voice: 6, hits },
  '500 ghosts by chance': { kind: 'change_hits', pattern: 3, voices: many(500, () => 6), range: { from: 0, bars: 2 }, change: { kind: 'ghosts', step_ticks: 2, density_percent: 100, velocity: 9, seed: 1 } },
  '40 times doubled': batch(many(40, () => ({ kind: 'double_pattern', pattern: 3 }))),
  'nested 120 deep': many(120, () => 0).reduce((inner) => batch([inner]), { kind: 'new_bus', name: 'B', feeders: [] }),
  '16 MiB of nothing': { kind: 'dismiss_check', key: 'x'.repeat(15 << 20), dismissed: true },
};

const waits = [];
let going = true;
const other = new Caller(address);
const asking = (async () => {
  while (going) {
    const began = performance.now();
    const { status } = await other.ask('GET', '/healthz');
    if (status !== 200) throw new Error(`healthz ${status}`);
    waits.push(performance.now() - began);
    await sleep(5);
  }
})();
await sleep(1000);
const quiet = Math.max(...waits.splice(0));
let slowest = ['', 0];
for (const [name, edit] of Object.entries(worst)) {
  const began = performance.now();
  const revision = (await caller.insist('GET', `/api/sessions/${session}`)).json.revision;
  const tries = many(4, () => caller.insist('POST', `/api/sessions/${session}/edits`, { id: randomUUID(), base_revision: revision, edit }));
  const answers = await Promise.all(tries);
  const took = performance.now() - began;
  if (took > slowest[1]) slowest = [name, took];
  console.log(`${name}: ${answers.map((a) => a.status).join(' ')} in ${took.toFixed(0)} ms${answers[0].json?.detail ? `; ${answers[0].json.detail.slice(0, 120)}` : ''}`);
}
await change(caller, session, { edit: { kind: 'new_bus', name: 'Alive', feeders: [] } });
going = false;
await asking;
waits.sort((a, b) => a - b);
const at = (part) => waits[Math.floor(waits.length * part)].toFixed(1);
await server.kill('SIGTERM');
console.log(
  `healthz waits: half within ${at(0.5)} ms, 99 % within ${at(0.99)} ms, worst ${waits.at(-1).toFixed(1)} ms (${quiet.toFixed(1)} ms before); ` +
    `${server.ended} exits by itself`,
);
process.exit(server.ended === 0 ? 0 : 1);
