/** The program under trial: started, killed, asked. */
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { request } from 'node:http';
import { createServer } from 'node:net';

export const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** A port that is free now. */
export const freePort = () =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });

/** A process that is started again after it was killed, and whose own end is a fault. */
export class Kept {
  killing = false;
  /** Ends that nobody asked for. */
  ended = 0;

  constructor(args) {
    this.args = args;
    this.start();
  }

  start() {
    this.killing = false;
    const env = { ...process.env, ZEALOUS_LANE_DATABASE_URL: process.env.ZL_DATABASE };
    const child = spawn(process.env.ZL_PROGRAM, this.args, { env, stdio: ['ignore', 'ignore', 'inherit'] });
    this.child = child;
    this.over = new Promise((resolve) => child.once('exit', resolve));
    child.once('exit', () => {
      if (!this.killing && child === this.child) {
        this.ended += 1;
        console.log(`${this.args[0]} ended by itself`);
        this.start();
      }
    });
  }

  async kill(signal = 'SIGKILL') {
    this.killing = true;
    this.child.kill(signal);
    await this.over;
  }
}

/** Restarts the database at once, without a word to anybody. */
export const restartDatabase = () =>
  new Promise((resolve) => spawn(process.env.ZL_RESTART_DATABASE, { stdio: 'inherit' }).once('exit', resolve));

/** One account's way to the server. */
export class Caller {
  cookie = '';

  constructor(address) {
    this.address = address;
  }

  /** Asks once; status 0 where nobody answers. */
  async ask(method, path, body, type = 'application/json') {
    const headers = { cookie: this.cookie };
    if (body !== undefined) headers['content-type'] = type;
    const sent = body === undefined || body instanceof Uint8Array ? body : JSON.stringify(body);
    try {
      const answer = await fetch(this.address + path, { method, headers, body: sent });
      const cookies = answer.headers.getSetCookie().map((line) => line.split(';')[0]);
      if (cookies.length > 0) this.cookie = cookies.join('; ');
      const bytes = Buffer.from(await answer.arrayBuffer());
      const json = (answer.headers.get('content-type') ?? '').includes('json') ? JSON.parse(bytes.toString()) : undefined;
      return { status: answer.status, json, bytes };
    } catch {
      return { status: 0 };
    }
  }

  /** Asks until it is answered by other than an outage. */
  async insist(method, path, body, type) {
    for (;;) {
      const answer = await this.ask(method, path, body, type);
      if (answer.status !== 0 && answer.status !== 429 && answer.status < 500) return answer;
      await sleep(100);
    }
  }

  async signUp() {
    const body = { email: `${randomUUID()}@trial.invalid`, password: 'a password for trials' };
    let answer = await this.insist('POST', '/api/accounts', body);
    if (answer.status !== 200) answer = await this.insist('POST', '/api/login', body);
    if (answer.status !== 200) throw new Error(`no sign-up: ${answer.status}`);
    return body;
  }
}

/** A mono WAV file of a tone. */
export function tone(frames) {
  const data = new Float32Array(frames).map((_, n) => 0.3 * Math.sin(n * 0.0131));
  const head = Buffer.alloc(44);
  head.write('RIFF');
  head.writeUInt32LE(36 + data.byteLength, 4);
  head.write('WAVEfmt ', 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(3, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(48_000, 24);
  head.writeUInt32LE(192_000, 28);
  head.writeUInt16LE(4, 32);
  head.writeUInt16LE(32, 34);
  head.write('data', 36);
  head.writeUInt32LE(data.byteLength, 40);
  return Buffer.concat([head, Buffer.from(data.buffer)]);
}

/** A session with one lane that sounds. */
export async function newSession(caller) {
  const { json } = await caller.insist('POST', '/api/sessions', { title: 'Trial', sample_rate: 48_000 });
  const id = json.id;
  const brought = await caller.insist('POST', `/api/sessions/${id}/bring-in?name=kick.wav`, tone(9600), 'application/octet-stream');
  const asset = brought.json.asset;
  const layer = {
    asset: asset.id,
    gain_db: 0,
    tune_ct: 0,
    start_frame: 0,
    end_frame: null,
    reverse: false,
    fade_in: { ms: 0, curve_percent: 0 },
    decay: null,
    sweep: null,
    velocity_percent: 100,
  };
  const source = { kind: 'one_shot', layers: [layer], hold: { kind: 'whole' } };
  const hits = [{ pattern: 3, hits: [{ at_ticks: 0, length_ticks: 240, velocity: 120, tune_st: 0 }] }];
  const edit = { kind: 'add_voices', assets: [asset], voices: [{ name: 'Kick', family: 'low', source, output: null, hits }] };
  await change(caller, id, { edit });
  return id;
}

/** Makes a change under an id of its own, until the server says that it has it. */
export async function change(caller, session, { edit, id = randomUUID() }) {
  for (;;) {
    const { status, json } = await caller.insist('GET', `/api/sessions/${session}`);
    if (status !== 200) throw new Error(`the session answers ${status}`);
    const body = { id, base_revision: json.revision, edit };
    const answer = await caller.insist('POST', `/api/sessions/${session}/edits`, body);
    if (answer.status === 200) return answer.json;
    if (answer.status !== 409) throw new Error(`an edit was answered by ${answer.status}: ${answer.json?.detail}`);
  }
}

/** Signs up from one of many addresses, since tries from one are limited. */
export function signUp(address, n) {
  const caller = new Caller(address);
  const body = JSON.stringify({ email: `${randomUUID()}@trial.invalid`, password: 'a password for trials' });
  const options = { method: 'POST', localAddress: `127.0.${1 + (n >> 4)}.${2 + (n & 15)}`, headers: { 'content-type': 'application/json' } };
  return new Promise((resolve, reject) => {
    const asked = request(`${address}/api/accounts`, options, (answer) => {
      answer.resume();
      if (answer.statusCode !== 200) return reject(new Error(`no sign-up: ${answer.statusCode}`));
      caller.cookie = (answer.headers['set-cookie'] ?? []).map((line) => line.split(';')[0]).join('; ');
      answer.once('end', () => resolve(caller));
    });
    asked.once('error', reject);
    asked.end(body);
  });
}

/** A session's revision and its edits, as one hand makes them. */
export class Hand {
  constructor(caller, session, revision = 1) {
    Object.assign(this, { caller, session, revision });
  }

  /** Makes an edit, again where another came first; the answer. */
  async edit(edit, id = randomUUID()) {
    for (;;) {
      const body = { id, base_revision: this.revision, edit };
      const answer = await this.caller.insist('POST', `/api/sessions/${this.session}/edits`, body);
      if (answer.status === 200) {
        this.revision = Math.max(this.revision, answer.json.revision);
        return answer.json;
      }
      if (answer.status !== 409) throw new Error(`an edit was answered by ${answer.status}: ${answer.json?.detail}`);
      this.revision = answer.json.revision ?? answer.json.current.revision;
    }
  }
}
