/** The database takes questions and answers none, as behind a cut cable, then answers again; then many sign in at once. */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { Caller, change, freePort, Kept, newSession, sleep } from './program.mjs';

const port = await freePort();
const address = `http://127.0.0.1:${port}`;
const server = new Kept(['serve', '--listen', `127.0.0.1:${port}`]);
const caller = new Caller(address);
await caller.signUp();
const session = await newSession(caller);

const postmaster = process.env.ZL_POSTMASTER;
const tell = (signal) =>
  execFileSync('bash', ['-c', `kill -${signal} ${postmaster} $(pgrep -P ${postmaster})`]);
const timed = async (work) => {
  const began = performance.now();
  return [await work(), performance.now() - began];
};

// Edits and looks at the program's health go on through it all.
let going = true;
const [waits, confirmed] = [[], []];
const asking = (async () => {
  while (going) {
    const [{ status }, took] = await timed(() => new Caller(address).ask('GET', '/healthz'));
    if (status !== 200) throw new Error(`healthz ${status}`);
    waits.push(took);
    await sleep(10);
  }
})();
const editing = (async () => {
  for (let n = 0; going; n += 1) {
    const id = randomUUID();
    await change(caller, session, { id, edit: { kind: 'rename_strip', strip: 2, name: `Kick ${n}` } });
    confirmed.push(id);
  }
})();
await sleep(1500);

tell('STOP');
await sleep(300);
const paths = ['/readyz', '/api/me', '/api/sessions', `/api/sessions/${session}`, '/api/library', '/api/presets', '/api/templates'];
const asked = paths.flatMap((path) => Array.from({ length: 8 }, () => path));
const answers = await Promise.all(asked.map((path) => timed(() => caller.ask('GET', path))));
const [wrong, slowest] = [answers.filter(([a]) => a.status !== 503 || !a.json?.detail).length, Math.max(...answers.map(([, t]) => t))];
await sleep(8000);
tell('CONT');
const [, back] = await timed(() => caller.insist('GET', '/api/sessions'));
await sleep(2000);
going = false;
await Promise.all([asking, editing]);
const known = await Promise.all(
  Array.from({ length: Math.ceil(confirmed.length / 50) }, (_, n) =>
    caller.insist('POST', `/api/sessions/${session}/changes/known`, { ids: confirmed.slice(n * 50, n * 50 + 50) }),
  ),
);
const lost = confirmed.length - known.reduce((sum, { json }) => sum + json.length, 0);

// A hundred at once, from five addresses.
const memory = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.child.pid}/status`, 'utf8'))[1]) / 1024;
const before = memory();
const signIn = (n) =>
  new Promise((resolve, reject) => {
    const headers = { 'content-type': 'application/json' };
    const options = { host: '127.0.0.1', port, method: 'POST', path: '/api/login', headers, localAddress: `127.0.0.${2 + (n % 5)}` };
    const sent = request(options, (answer) => {
      answer.resume();
      answer.on('end', () => resolve(answer.statusCode));
    });
    sent.on('error', reject);
    sent.end(JSON.stringify({ email: `n${n}@trial.invalid`, password: 'not the password' }));
  });
const storm = await Promise.all(Array.from({ length: 100 }, (_, n) => signIn(n)));
const after = memory();
const count = (status) => storm.filter((s) => s === status).length;

const [, stopped] = await timed(() => server.kill('SIGTERM'));
waits.sort((a, b) => a - b);
console.log(
  `silent: ${answers.length} asked, ${wrong} not answered by a 503 in words, slowest ${slowest.toFixed(0)} ms; well again after ` +
    `${back.toFixed(0)} ms; ${confirmed.length} edits confirmed, ${lost} lost; healthz worst ${waits.at(-1).toFixed(0)} ms\n` +
    `100 sign-ins from 5 addresses: ${count(401)} looked at, ${count(429)} told to wait; memory ${before.toFixed(0)} MiB before, ` +
    `${after.toFixed(0)} after; stopped in ${stopped.toFixed(0)} ms; ${server.ended} exits by itself`,
);
process.exit(wrong + lost + server.ended === 0 && count(401) + count(429) === 100 ? 0 : 1);
