/** What edits cost, on the program as it is built for tests. */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { Caller, freePort, Hand, Kept, signUp, sleep } from './program.mjs';

const MOVES = 100;
const PEOPLE = Number(process.argv[2] ?? 100);
const SECONDS = 20;
const port = await freePort();
const server = new Kept(['serve', '--listen', `127.0.0.1:${port}`]);
const address = `http://127.0.0.1:${port}`;
process.once('exit', () => server.child.kill('SIGKILL'));
await new Caller(address).insist('GET', '/readyz');

const sql = (text) => execFileSync('psql', [process.env.ZL_DATABASE, '-tAc', text]).toString().trim();
const postmaster = Number(readFileSync(`${process.env.ZL_CLUSTER}/postmaster.pid`, 'utf8').split('\n')[0]);
const stat = (pid) => readFileSync(`/proc/${pid}/stat`, 'utf8').replace(/^.*\) /, '').split(' ');
/** Processor time of some processes in ms. */
const spent = (pids) =>
  pids.reduce((sum, pid) => {
    try {
      const fields = stat(pid);
      return sum + 10 * (Number(fields[11]) + Number(fields[12]));
    } catch {
      return sum;
    }
  }, 0);
const databasePids = () =>
  readdirSync('/proc').filter((pid) => {
    try {
      return /^\d+$/.test(pid) && Number(stat(pid)[1]) === postmaster;
    } catch {
      return false;
    }
  });
const cpu = () => ({ server: spent([server.child.pid]), database: spent([...databasePids(), postmaster]) });
const at = (list, part) => list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * part))] ?? NaN;
const resident = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.child.pid}/status`, 'utf8'))?.[1]) / 1024;

const hit = (n) => ({ at_ticks: 240 * n, length_ticks: 120, velocity: 100, tune_st: 0 });
const hits = Array.from({ length: 16 }, (_, n) => hit(n));
const voice = (n) => ({ name: `Lane ${n}`, family: 'low', source: { kind: 'empty' }, output: null, hits: [{ pattern: 3, hits }] });
const compressor = { kind: 'compressor' };

/** A session with so many lanes, a processor on some, and a take of so many notes. */
async function session(caller, lanes, processors, notes) {
  const { json } = await caller.insist('POST', '/api/sessions', { title: 'Trial', sample_rate: 48_000 });
  const hand = new Hand(caller, json.id);
  for (let from = 0; from < lanes; from += 100) {
    const voices = Array.from({ length: Math.min(100, lanes - from) }, (_, n) => voice(from + n));
    await hand.edit({ kind: 'add_voices', assets: [], voices });
  }
  const { document } = (await caller.insist('GET', `/api/sessions/${json.id}`)).json;
  const channels = document.voices.map((v) => v.channel);
  for (let n = 0; n < processors; n += 1)
    await hand.edit({ kind: 'add_processor', strips: [channels[n % lanes]], settings: compressor, key: null, at: null });
  if (notes > 0) {
    const take = { name: 'Take', tracks: ['a'], tempo_bpm: null, metre: null, remarks: [] };
    take.notes = Array.from({ length: notes }, (_, n) => [0, 9, 36 + (n % 8), 100, 60 * n, 60]);
    await hand.edit({ kind: 'add_take', take, sounds: [], to: [] });
  }
  return { hand, channels };
}

const fader = (channel, n) => ({ kind: 'set_strips', strips: [channel], change: { what: 'fader_db', to: -(n % 400) / 10 } });

async function alone() {
  const caller = await signUp(address, 0);
  for (const [lanes, notes] of [[10, 0], [100, 0], [300, 0], [300, 10_000]]) {
    const { hand, channels } = await session(caller, lanes, 0, notes);
    for (let n = 0; n < 20; n += 1) await hand.edit(fader(channels[0], n));
    sql('checkpoint');
    const waits = [];
    const [before, log] = [cpu(), sql("select pg_current_wal_insert_lsn() - '0/0'")];
    for (let n = 0; n < MOVES; n += 1) {
      const began = performance.now();
      await hand.edit(fader(channels[n % 10], n + 7));
      waits.push(performance.now() - began);
    }
    const [after, end] = [cpu(), sql("select pg_current_wal_insert_lsn() - '0/0'")];
    const each = (key) => ((after[key] - before[key]) / MOVES).toFixed(1);
    const opened = performance.now();
    const bytes = (await caller.insist('GET', `/api/sessions/${hand.session}`)).bytes.length;
    console.log(
      `${lanes} lanes, ${notes} notes (${(bytes / 1024).toFixed(0)} KiB): a fader takes ${each('server')} ms of the server and ` +
        `${each('database')} ms of the database, half within ${at(waits, 0.5).toFixed(1)} ms, 99 % within ${at(waits, 0.99).toFixed(1)}; ` +
        `${((Number(end) - Number(log)) / MOVES / 1024).toFixed(1)} KiB of log; opened in ${(performance.now() - opened).toFixed(0)} ms`,
    );
  }
}

/** Reads a stream of revisions until it is told to stop. */
async function listen(caller, session, told, stop) {
  const answer = await fetch(`${address}/api/sessions/${session}/events`, { headers: { cookie: caller.cookie }, signal: stop });
  const decoder = new TextDecoder();
  try {
    for await (const piece of answer.body)
      for (const [, revision] of decoder.decode(piece, { stream: true }).matchAll(/data: ?(\d+)/g)) await told(Number(revision));
  } catch (error) {
    if (!stop.aborted) throw error;
  }
}

async function crowd() {
  const hands = [];
  for (let n = 0; n < PEOPLE; n += 1) {
    const caller = await signUp(address, n + 1);
    hands.push(await session(caller, 24, 60, 0));
  }
  const stop = new AbortController();
  const streams = hands.map(({ hand }) => listen(hand.caller, hand.session, () => undefined, stop.signal));
  await sleep(2000);
  const waits = [];
  const [before, mine] = [cpu(), process.cpuUsage()];
  await Promise.all(
    hands.map(async ({ hand, channels }, person) => {
      await sleep((1000 * person) / PEOPLE);
      const began = performance.now();
      for (let n = 0; n < SECONDS; n += 1) {
        await sleep(Math.max(0, began + 1000 * n - performance.now()));
        const sent = performance.now();
        await hand.edit(fader(channels[n % 24], n + person));
        waits.push(performance.now() - sent);
      }
    }),
  );
  const [after, own] = [cpu(), process.cpuUsage(mine)];
  stop.abort();
  await Promise.all(streams);
  const each = (key) => ((after[key] - before[key]) / waits.length).toFixed(1);
  console.log(
    `${PEOPLE} people, an edit a second each: half within ${at(waits, 0.5).toFixed(1)} ms, 99 % within ${at(waits, 0.99).toFixed(1)}, ` +
      `worst ${at(waits, 1).toFixed(1)}; ${each('server')} ms of the server and ${each('database')} ms of the database an edit ` +
      `(${((own.user + own.system) / 1000 / waits.length).toFixed(1)} ms of this trial); the server holds ${resident().toFixed(0)} MiB`,
  );
}

async function two() {
  const caller = await signUp(address, 400);
  const { hand, channels } = await session(caller, 300, 0, 0);
  const hands = [hand, new Hand(caller, hand.session, hand.revision)];
  const stop = new AbortController();
  const sent = new Map();
  const seen = [];
  // Each follows as a page does: what is behind the revision that it has.
  const streams = hands.map((_, person) => {
    let has = hand.revision;
    return listen(
      caller,
      hand.session,
      async (revision) => {
        if (revision <= has) return;
        const { json } = await caller.insist('GET', `/api/sessions/${hand.session}/changes?after=${has}`);
        for (const change of json) {
          has = change.revision;
          const from = sent.get(change.id);
          if (from && from.person !== person) seen.push(performance.now() - from.at);
        }
      },
      stop.signal,
    );
  });
  await sleep(500);
  const first = hand.revision;
  await Promise.all(
    hands.map(async (hand, person) => {
      const began = performance.now();
      for (let n = 0; n < 5 * SECONDS; n += 1) {
        await sleep(Math.max(0, began + 200 * n + 100 * person - performance.now()));
        const id = randomUUID();
        sent.set(id, { person, at: performance.now() });
        await hand.edit(fader(channels[150 * person + (n % 100)], n), id);
      }
    }),
  );
  await sleep(1000);
  stop.abort();
  await Promise.all(streams);
  const { revision } = (await caller.insist('GET', `/api/sessions/${hand.session}`)).json;
  const [made, kept] = [2 * 5 * SECONDS, revision - first];
  console.log(
    `two people on 300 lanes, 5 edits a second each: ${kept} of ${made} edits kept, ${seen.length} seen by the other, half within ` +
      `${at(seen, 0.5).toFixed(0)} ms, 99 % within ${at(seen, 0.99).toFixed(0)}`,
  );
  return kept === made;
}

await alone();
await crowd();
const whole = await two();
await server.kill('SIGTERM');
process.exit(whole && server.ended === 0 ? 0 : 1);
