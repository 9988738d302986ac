/** Four busy processes beside server and database: fifty people edit meanwhile, and many sign in at once. */
import { spawn } from 'node:child_process';
import { Caller, freePort, Hand, Kept, signUp, sleep } from './program.mjs';

const PEOPLE = 50;
const SECONDS = 30;
const port = await freePort();
const address = `http://127.0.0.1:${port}`;
const server = new Kept(['serve', '--listen', `127.0.0.1:${port}`]);
const busy = [];
process.once('exit', () => {
  server.child.kill('SIGKILL');
  busy.forEach((child) => child.kill('SIGKILL'));
});
while ((await new Caller(address).ask('GET', '/readyz')).status !== 200) await sleep(100);

const hands = [];
for (let n = 0; n < PEOPLE; n += 1) {
  const caller = await signUp(address, n);
  const { json } = await caller.insist('POST', '/api/sessions', { title: 'Busy', sample_rate: 48_000 });
  hands.push(new Hand(caller, json.id));
}
for (let n = 0; n < 4; n += 1) busy.push(spawn(process.execPath, ['-e', 'for (;;);'], { stdio: 'ignore' }));

const at = (list, part) => list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * part))] ?? NaN;
const said = (list) => `half within ${at(list, 0.5).toFixed(0)} ms, 99 % within ${at(list, 0.99).toFixed(0)} ms, worst ${at(list, 1).toFixed(0)} ms`;
const told = {};
const waits = [];
const until = performance.now() + SECONDS * 1000;
await Promise.all(
  hands.map(async (hand, of) => {
    await sleep((of * 1000) / PEOPLE);
    for (let n = 0; performance.now() < until; n += 1) {
      const began = performance.now();
      const body = { id: crypto.randomUUID(), base_revision: hand.revision, edit: { kind: 'rename_strip', strip: 2, name: `Kick ${n}` } };
      const answer = await hand.caller.ask('POST', `/api/sessions/${hand.session}/edits`, body);
      told[answer.status] = (told[answer.status] ?? 0) + 1;
      if (answer.status === 200) hand.revision = answer.json.revision;
      waits.push(performance.now() - began);
      // A hand at work: one edit a second.
      await sleep(Math.max(0, 1000 - (performance.now() - began)));
    }
  }),
);
const answers = Object.entries(told).map(([status, count]) => `${count} times ${status}`).join(', ');
console.log(`${PEOPLE} people, an edit a second each, four busy processes: ${answers}; ${said(waits)}`);

async function health(busyWith) {
  const looks = [];
  let going = true;
  const looking = (async () => {
    while (going) {
      const began = performance.now();
      await new Caller(address).ask('GET', '/healthz');
      looks.push(performance.now() - began);
      await sleep(5);
    }
  })();
  await busyWith();
  going = false;
  await looking;
  return looks;
}
const signIns = () =>
  Promise.all(Array.from({ length: 40 }, (_, n) => signUp(address, 100 + n).catch(() => undefined)));
console.log(`40 sign-ups at once beside them: /healthz ${said(await health(signIns))}`);
busy.forEach((child) => child.kill('SIGKILL'));
await sleep(500);
const quiet = () =>
  Promise.all(Array.from({ length: 40 }, (_, n) => signUp(address, 200 + n).catch(() => undefined)));
console.log(`the same on a machine that is quiet otherwise: /healthz ${said(await health(quiet))}`);
await server.kill();
process.exit(told[503] || told[0] ? 1 : 0);
