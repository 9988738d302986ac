/** A session with a long, heavy past: how long it takes to be opened, followed and undone as that grows. */
import { randomUUID } from 'node:crypto';
import { Caller, freePort, Kept, sleep } from './program.mjs';

let server;
const wanted = Number(process.argv[2] ?? 840) * 2 ** 20;
process.on('exit', () => server?.child.kill('SIGKILL'));
const port = await freePort();
server = new Kept(['serve', '--no-worker', '--listen', `127.0.0.1:${port}`]);
const caller = new Caller(`http://127.0.0.1:${port}`);
while ((await caller.ask('GET', '/readyz')).status !== 200) await sleep(100);
await caller.signUp();
const { json: made } = await caller.insist('POST', '/api/sessions', { title: 'Past', sample_rate: 48_000 });
const path = `/api/sessions/${made.id}`;

const NOTES = 18_000;
const notes = Array.from({ length: NOTES }, (_, n) => [0, 9, 36 + (n % 12), 1 + (n % 127), 4 * n, 60]);
const take = { name: 'Large', tracks: [], notes, tempo_bpm: null, metre: null, remarks: [] };
let refused = 0;
let slowest = 0;
let revision = 1;
async function edit(edit) {
  const body = { id: randomUUID(), base_revision: revision, edit };
  for (;;) {
    const began = performance.now();
    const { status, json } = await caller.ask('POST', `${path}/edits`, body);
    if (status === 200) {
      slowest = Math.max(slowest, performance.now() - began);
      revision = json.revision;
      return json;
    }
    if (status !== 503 && status !== 429) throw new Error(`${status}: ${json?.detail}`);
    refused += 1;
    await sleep(200);
  }
}
const timed = async (method, at, body) => {
  const took = [];
  let last;
  for (let n = 0; n < 5; n += 1) {
    const began = performance.now();
    last = await caller.ask(method, at, body);
    if (last.status !== 200) throw new Error(`${at}: ${last.status} ${last.json?.detail}`);
    took.push(performance.now() - began);
  }
  return { ms: Math.round(took.sort((a, b) => a - b)[2]), bytes: last.bytes.length, json: last.json };
};
const mib = (bytes) => (bytes / 2 ** 20).toFixed(1);

const before = await timed('GET', path);
let held = 0;
let steps = 0;
while (held < wanted) {
  const added = await edit({ kind: 'add_take', take, sounds: [], to: [] });
  const all = (thing) => added.made.filter((m) => m.thing === thing).map((m) => m.id);
  const edits = [
    { kind: 'remove_voices', voices: all('voice') },
    { kind: 'remove_take', take: all('take')[0] },
  ];
  await edit({ kind: 'batch', edits });
  steps += 2;
  if (steps % 10 === 0) {
    held = (await caller.insist('GET', '/api/holdings')).json.history_bytes;
    process.stdout.write(`\r${steps} steps, ${mib(held)} MiB of steps and changes `);
  }
}
const after = await timed('GET', path);
const one = await timed('GET', `${path}/steps/${after.json.undo[0].id}`);
const followed = await timed('GET', `${path}/changes?after=1`);
const began = performance.now();
const undo = { id: randomUUID(), base_revision: revision, step: after.json.undo[0].id };
const undone = await caller.insist('POST', `${path}/undo`, undo);
if (undone.status !== 200) throw new Error(`undo: ${undone.status}`);
const undoing = Math.round(performance.now() - began);
await server.kill();
console.log(
  `\nopened in ${before.ms} ms before and ${after.ms} ms behind ${steps} steps of ${NOTES} notes (${mib(held)} MiB of steps and changes); ` +
    `${mib(after.bytes)} MiB were sent for it. One step ${one.ms} ms (${mib(one.bytes)} MiB), the first changes ${followed.ms} ms ` +
    `(${followed.json.length} of them, ${mib(followed.bytes)} MiB), undoing ${undoing} ms. Slowest edit ${Math.round(slowest)} ms, ` +
    `${refused} refused for a while.`,
);
