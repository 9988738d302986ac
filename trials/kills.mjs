/** Accounts edit and render while everything around them is killed; then all is counted. */
import { createHash, randomUUID } from 'node:crypto';
import { Caller, change, freePort, Kept, newSession, restartDatabase, sleep } from './program.mjs';

const kills = Number(process.argv[2] ?? 200);
const ACCOUNTS = 4;
/** Edits of one account at most: each adds a strip, of which a session has 1024. */
const MOST = 900;
const port = await freePort();
const address = `http://127.0.0.1:${port}`;
const server = new Kept(['serve', '--no-worker', '--listen', `127.0.0.1:${port}`, '--waiting-renders', '5']);
const workers = [new Kept(['work']), new Kept(['work'])];

let going = true;
const confirmed = new Map();
let renders = 0;

async function mix(n) {
  const caller = new Caller(address);
  await caller.signUp();
  const session = await newSession(caller);
  const names = [];
  confirmed.set(n, { caller, session, names });
  for (let at = 0; going && at < MOST; at += 1) {
    const name = `Bus ${at}`;
    await change(caller, session, { edit: { kind: 'new_bus', name, feeders: [] }, id: randomUUID() });
    names.push(name);
    if (at % 8 === 0) {
      const started = await caller.ask('POST', `/api/sessions/${session}/renders`);
      if (started.status === 200) renders += 1;
    }
    await sleep(150);
  }
}

const mixers = Array.from({ length: ACCOUNTS }, (_, n) => mix(n));
await sleep(3000);
const began = Date.now();
for (let n = 0; n < kills; n += 1) {
  const what = n % 4;
  if (what === 0) {
    await server.kill();
    server.start();
  } else if (what === 1 || what === 3) {
    const worker = workers[(n >> 1) % 2];
    await worker.kill();
    worker.start();
  } else {
    await restartDatabase();
  }
  if ((n + 1) % 20 === 0) console.log(`${n + 1} kills, ${[...confirmed.values()].reduce((s, c) => s + c.names.length, 0)} edits, ${renders} renders`);
  await sleep(500 + Math.random() * 900);
}
going = false;
await Promise.all(mixers);
const took = (Date.now() - began) / 1000;

const count = { edits: 0, lost: 0, twice: 0, renders: 0, done: 0, failed: 0, partial: 0, waiting: 0 };
for (const { caller, session, names } of confirmed.values()) {
  const { json } = await caller.insist('GET', `/api/sessions/${session}`);
  const there = json.document.strips.map((s) => s.name);
  for (const name of names) {
    const times = there.filter((t) => t === name).length;
    count.edits += 1;
    count.lost += times === 0 ? 1 : 0;
    count.twice += times > 1 ? 1 : 0;
  }
  let lines = [];
  for (let tries = 0; tries < 600; tries += 1) {
    lines = (await caller.insist('GET', `/api/sessions/${session}/renders`)).json;
    if (lines.every((l) => l.status !== 'queued' && l.status !== 'running')) break;
    await sleep(500);
  }
  for (const line of lines) {
    count.renders += 1;
    if (line.status === 'queued' || line.status === 'running') count.waiting += 1;
    if (line.status === 'failed') {
      count.failed += 1;
      console.log(`render ${line.version} failed: ${line.reason}`);
    }
    if (line.status !== 'done') continue;
    count.done += 1;
    const sums = (await caller.insist('GET', `/api/renders/${line.id}/files/${line.report.stems.length + 1}`)).bytes.toString();
    const rows = sums.trim().split('\n');
    let whole = rows.length === line.report.stems.length + 1;
    for (const [at, row] of rows.entries()) {
      const { bytes } = await caller.insist('GET', `/api/renders/${line.id}/files/${at}`);
      whole &&= createHash('sha256').update(bytes).digest('hex') === row.split(' ')[0];
    }
    count.partial += whole ? 0 : 1;
  }
}
const ended = server.ended + workers.reduce((sum, w) => sum + w.ended, 0);
for (const one of [server, ...workers]) await one.kill('SIGTERM');
console.log(
  `${kills} kills in ${took.toFixed(0)} s: ${count.edits} edits confirmed, ${count.lost} lost, ${count.twice} twice; ` +
    `${count.renders} renders looked at, ${count.done} done, ${count.failed} failed with a reason, ${count.partial} partial, ${count.waiting} waiting for ever; ` +
    `${ended} exits by itself`,
);
process.exit(count.lost + count.twice + count.partial + count.waiting + ended === 0 ? 0 : 1);
