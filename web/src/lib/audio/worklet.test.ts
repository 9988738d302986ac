import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { Edit, NewVoice, Session } from '$lib/api/types';
import type { Desk } from './desk';
import { Follower } from './follower';
import type { FromWorklet, ToWorklet } from './messages';
import { addLanes, coreModule, newVoice, onDesk } from '$testing/on-desk';

/** The worklet itself on the real core, without a browser around it. */
interface Processor {
  port: { onmessage?: (event: { data: ToWorklet }) => void };
  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean;
}
let said: FromWorklet[];
let Lane: new (options: { processorOptions: { module: WebAssembly.Module } }) => Processor;

vi.stubGlobal('sampleRate', 48_000);
vi.stubGlobal(
  'AudioWorkletProcessor',
  class {
    port = { postMessage: (message: FromWorklet) => void said.push(message) };
  },
);
vi.stubGlobal('registerProcessor', (_: string, made: typeof Lane) => (Lane = made));
await import('./worklet');

const ID = 'c'.repeat(64);
const asset = { id: ID, name: 'hum.wav', channels: 1, sample_rate: 48_000, frames: 96_000 };
/** A lane that hums along with the song. */
const humming: NewVoice = {
  ...newVoice('Hum'),
  source: { kind: 'recording', asset: ID, start_frame: 0 },
};
const hum = (level = 0.25) =>
  Float32Array.from({ length: 96_000 }, (_, n) => level * Math.sin(n / 20)).buffer;
const silence = () => new Float32Array(128);

async function opened(...edits: (Edit | ((doc: Session) => Edit))[]) {
  said = [];
  const desk = onDesk({ kind: 'add_voices', voices: [humming], assets: [asset] }, ...edits);
  const lane = new Lane({ processorOptions: { module: coreModule() } });
  const send = (message: ToWorklet) => lane.port.onmessage?.({ data: message });
  const follow = async (source: Pick<Desk, 'engine' | 'beginnings'>, side: number) => {
    const follower = new Follower(source, (words, begin) => send({ kind: 'words', side, words, begin }));
    follower.changed();
    // Words leave once the page is done with the moment.
    await Promise.resolve();
    return follower;
  };
  const follower = await follow(desk, 0);
  const number = desk.audioNumber(ID);
  /** Blocks of 128 frames, on the left. */
  const plays = (blocks: number): number[] => {
    const all: number[] = [];
    for (let n = 0; n < blocks; n += 1) {
      const left = silence();
      lane.process([], [[left, silence()]]);
      all.push(...left);
    }
    return all;
  };
  const arrives = (pcm = hum(), numbered = number) =>
    send({ kind: 'audio', number: numbered, channels: 1, pcm });
  return { desk, lane, send, follow, follower, number, plays, arrives };
}
const highest = (sound: number[]) => Math.max(...sound.map(Math.abs));
const told = <K extends FromWorklet['kind']>(kind: K) =>
  said.filter((m): m is Extract<FromWorklet, { kind: K }> => m.kind === kind);

beforeEach(() => void (said = []));

describe('the audio thread', () => {
  test('says what meters stand where, and plays once it shall', async () => {
    const t = await opened();
    expect(told('followed')).toEqual([{ kind: 'followed', side: 0, messages: 1 }]);
    const strips: unknown = JSON.parse(new TextDecoder().decode(told('strips')[0]?.strips));
    expect(JSON.stringify(strips)).toContain(String(t.desk.document().voices[0]?.channel));
    t.arrives();
    expect(highest(t.plays(8))).toBe(0);
    t.send({ kind: 'play' });
    expect(highest(t.plays(40))).toBeCloseTo(0.25, 3);
    t.send({ kind: 'stop' });
    expect(highest(t.plays(400).slice(-128))).toBe(0);
  });

  test('takes audio in while it plays, in pieces, and plays it then', async () => {
    const t = await opened();
    t.send({ kind: 'play' });
    t.plays(4);
    t.arrives();
    const sound = t.plays(200);
    expect(highest(sound.slice(0, 128))).toBe(0);
    expect(highest(sound.slice(-1280))).toBeGreaterThan(0.1);
  });

  test('goes where it shall, and says where it is', async () => {
    const t = await opened();
    t.arrives();
    t.send({ kind: 'play' });
    t.send({ kind: 'seek', frame: 48_000 });
    t.plays(10);
    const { position } = told('meters').at(-1) ?? { position: 0 };
    expect(position).toBeGreaterThan(48_000);
    expect(position).toBeLessThanOrEqual(48_000 + 1280);
    t.send({ kind: 'loop', from: 0, to: 12_800 });
    t.send({ kind: 'seek', frame: 6000 });
    t.plays(400);
    expect(told('meters').at(-1)?.position).toBeLessThan(12_800);
  });

  test('sends meters some sixty times a second, and none once all has been still', async () => {
    const t = await opened();
    t.arrives();
    t.send({ kind: 'play' });
    t.plays(375);
    expect(Math.abs(told('meters').length - 60)).toBeLessThanOrEqual(1);
    t.send({ kind: 'stop' });
    t.plays(8000);
    said = [];
    t.plays(100);
    expect(said).toEqual([]);
    t.send({ kind: 'audition', voice: t.desk.document().voices[0]?.id ?? 0, layer: -1, tuneSt: 0 });
    t.plays(100);
    expect(told('meters').length).toBeGreaterThan(10);
  });

  test('writes meters into the room that came back', async () => {
    const t = await opened();
    t.plays(8);
    const { values } = told('meters')[0] ?? {};
    if (!values) throw new Error('no meters');
    t.send({ kind: 'spent', values });
    t.plays(14);
    expect(told('meters').some((m) => m.values === values)).toBe(true);
  });

  test('follows edits while it plays', async () => {
    const t = await opened();
    t.arrives();
    t.send({ kind: 'play' });
    const before = highest(t.plays(100).slice(-2560));
    const strips = [t.desk.document().voices[0]?.channel ?? 0];
    t.desk.apply({ kind: 'set_strips', strips, change: { what: 'fader_db', to: -20 } });
    t.follower.followed(1);
    t.follower.changed();
    await Promise.resolve();
    const after = highest(t.plays(200).slice(-2560));
    expect(20 * Math.log10(after / before)).toBeCloseTo(-20, 0);
    expect(told('followed').length).toBe(1 + 1);
  });

  test('watches the sound before and behind a processor', async () => {
    const t = await opened();
    t.arrives();
    t.send({ kind: 'watch', strip: t.desk.document().voices[0]?.channel ?? 0, processor: 0 });
    t.send({ kind: 'play' });
    t.plays(375);
    const seen = told('watched');
    expect(seen.length).toBeGreaterThan(10);
    expect(Math.max(...(seen.at(-1)?.values ?? []))).toBeGreaterThan(0.1);
    t.send({ kind: 'watch', strip: 0, processor: 0 });
    said = [];
    t.plays(100);
    expect(told('watched')).toEqual([]);
  });
});

describe('sides in the audio thread', () => {
  test('a recording stands once its audio is there, and is heard past everything at its level', async () => {
    const t = await opened();
    const other = t.desk.audioNumber('d'.repeat(64));
    t.send({ kind: 'recording', side: 1, number: other, follows: false, start: 0, from: 0, to: 96_000 });
    expect(told('stands')).toEqual([]);
    t.arrives(hum(0.5), other);
    expect(told('stands')).toEqual([{ kind: 'stands', side: 1 }]);
    t.send({ kind: 'play' });
    expect(highest(t.plays(40))).toBe(0);
    t.send({ kind: 'hear', side: 1, levels: [0, -6.0206, 0] });
    // Over the ramp of 5 ms it comes, and then it is there whole.
    expect(highest(t.plays(40).slice(1280))).toBeCloseTo(0.25, 2);
    t.send({ kind: 'nothing', side: 1 });
    expect(highest(t.plays(40).slice(1280))).toBe(0);
  });

  test('a recording that was taken away before its audio came does not come back', async () => {
    const t = await opened();
    const other = t.desk.audioNumber('d'.repeat(64));
    t.send({ kind: 'recording', side: 1, number: other, follows: false, start: 0, from: 0, to: 96_000 });
    t.send({ kind: 'nothing', side: 1 });
    t.arrives(hum(0.5), other);
    expect(told('stands')).toEqual([]);
  });

  test.each([false, true])('a state of the session is followed on its side, playing: %s', async (playing) => {
    const t = await opened(addLanes(newVoice('Rim')));
    t.arrives();
    if (playing) t.send({ kind: 'play' });
    t.plays(10);
    said = [];
    const quiet = structuredClone(t.desk.document());
    for (const strip of quiet.strips) if (strip.kind === 'main') strip.fader_db = -20;
    t.desk.side(1, { document: quiet });
    await t.follow(
      {
        engine: (fresh: boolean) => t.desk.sideEngine(1, fresh),
        beginnings: t.desk.beginnings,
      } as Pick<Desk, 'engine' | 'beginnings'>,
      1,
    );
    t.send({ kind: 'play' });
    t.plays(400);
    expect(told('followed')).toEqual([{ kind: 'followed', side: 1, messages: 1 }]);
    const now = highest(t.plays(40));
    t.send({ kind: 'hear', side: 1, levels: [0, 0, 0] });
    const then = highest(t.plays(40).slice(1280));
    expect(20 * Math.log10(then / now)).toBeCloseTo(-20, 1);
  });

  test('an engine that traps begins anew and asks for the session; one that does again says so', async () => {
    const t = await opened();
    const trap = () => {
      throw new WebAssembly.RuntimeError('unreachable');
    };
    const break_ = () => {
      const broken = t.lane as unknown as { lane: object };
      broken.lane = { ...broken.lane, player_process: trap };
    };
    break_();
    expect(highest(t.plays(1))).toBe(0);
    expect(told('restarted')).toHaveLength(1);
    t.follower.begin();
    await Promise.resolve();
    t.arrives();
    t.send({ kind: 'play' });
    expect(highest(t.plays(40))).toBeGreaterThan(0.1);
    break_();
    t.plays(1);
    expect(told('failed').map((m) => new TextDecoder().decode(m.answer))).toEqual([
      expect.stringMatching(/failed again. Undo your last change/),
    ]);
    expect(highest(t.plays(4))).toBe(0);
  });

  test('what is no trap is not held back', async () => {
    const t = await opened();
    const broken = t.lane as unknown as { lane: object };
    broken.lane = {
      ...broken.lane,
      player_process: () => {
        throw new TypeError('a mistake');
      },
    };
    expect(() => t.plays(1)).toThrow('a mistake');
  });
});
