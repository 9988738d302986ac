/** The engine as the page sees it: sound, position, meters. */
import { api, ApiError } from '$lib/api/client';
import type { AssetRef, Bypass, Patch, Session } from '$lib/api/types';
import { Pauses } from '$lib/sync/pauses';
import type { Desk } from './desk';
import { Follower } from './follower';
import { Lateness } from './lateness';
import type { FromWorklet, Levels, RecordingWay, ToWorklet } from './messages';
import { MeterBoard } from './meters.svelte';
import { assetsOf } from './voiced';
import workletUrl from './worklet.ts?worker&url';

const encoder = new TextEncoder();
const decoder = new TextDecoder();
/** How long the browser may take until it sounds. */
const SOUNDS_MS = 4000;
const NO_SOUND =
  'The browser takes no sound. Look whether an output device is connected; it plays as soon as there is one.';
/** How often it is looked at whether sound comes in time. */
const LOOK_MS = 250;
/** Assets fetched at a time. */
const FETCHES = 6;

/** What is heard on a side beside now. */
export type SideSound =
  | { kind: 'session'; what: 'without' | { document: Session } }
  | {
      kind: 'recording';
      /** Its address, or another name that is only its. */
      id: string;
      /** For people. */
      name: string;
      channels: number;
      /** Fetches its samples, interleaved 32-bit floats, to be given away. */
      pcm: () => Promise<ArrayBuffer>;
      way: RecordingWay;
    };

const NO_ENGINE = 'The sound engine is not loaded yet. Trying again …';
const LATE = 'Not loaded yet: ';

export class Player {
  playing = $state(false);
  /** Frames from bar 1. */
  position = $state(0);
  /** Assets still on their way. */
  waiting = $state(0);
  /** What could not be fetched or played, for people. */
  problem = $state('');
  /** Overviews of assets: peaks in 0 to 1, by asset id. */
  overviews = $state<Record<string, Float32Array>>({});
  /** Audio that is not there any more. */
  missing = $state<string[]>([]);
  /** Audio that could not be had yet, and is asked for again. */
  late = $state<string[]>([]);
  /** Whether sound breaks again and again, since blocks come late. */
  strained = $state(false);
  /** Told each time that sound broke, to give way. */
  onbreak: () => void = () => undefined;
  /** The strip whose chain failed last; 0 for none. */
  fault = $state(0);
  /** The key that is heard instead of main, by its processor. */
  listening = $state<number>();
  /** Whether that is what it takes away, and not what its key hears. */
  taken = $state(false);
  /** The newest sound before and behind what is watched. */
  watched = $state.raw<{ before: Float32Array; behind: Float32Array }>();
  /** The side that is heard: 0 for now. */
  heard = $state(0);
  /** Which sides can be heard at once. */
  stands = [true, false, false];
  readonly meters = new MeterBoard();

  private context: AudioContext | undefined;
  private node: AudioWorkletNode | undefined;
  /** What was asked before the worklet was there. */
  private waitingMessages: [ToWorklet, Transferable[]][] = [];
  /** Whether sound was asked for by a click. */
  private wanted = false;
  private readonly known = new Set<string>();
  private opening: Promise<void> | undefined;

  /** Runs while sound was asked for and none came. */
  private silent: ReturnType<typeof setTimeout> | undefined;
  private again: ReturnType<typeof setTimeout> | undefined;
  private readonly pauses = new Pauses();
  private readonly lateness = new Lateness();
  private looking: ReturnType<typeof setInterval> | undefined;
  private closed = false;

  /** The loop that was asked for last, in frames. */
  private looped: [number, number] | undefined;

  /** Tell the engines what changed: now, and the sides that are states of the session. */
  private readonly followers: (Follower | undefined)[];
  /** What is on the sides beside now, to be put there again. */
  private readonly beside: (SideSound | undefined)[] = [];
  private levels: Levels = [0, 0, 0];
  private awaited: { side: number; resolve: (stands: boolean) => void }[] = [];

  constructor(
    private readonly module: WebAssembly.Module,
    private readonly desk: Desk,
  ) {
    const now = new Follower(desk, (words, begin) =>
      this.send({ kind: 'words', side: 0, words, begin }, [words]),
    );
    this.followers = [now];
  }

  private get follower(): Follower {
    return this.followers[0] as Follower;
  }

  /** Opens the document that stands on the desk. The context waits for a click of the person before it sounds. */
  async open(session: Session): Promise<void> {
    this.opening ??= this.build(session.header.sample_rate);
    this.follower.changed();
    await this.opening;
    await this.fetchVoiced(session);
  }

  private async build(rate: number): Promise<void> {
    this.context = new AudioContext({ sampleRate: rate, latencyHint: 'interactive' });
    if (this.wanted) void this.context.resume();
    await this.load(this.context.audioWorklet);
    if (this.closed) return;
    this.node = new AudioWorkletNode(this.context, 'lane', {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions: { module: this.module },
    });
    this.node.port.onmessage = (event: MessageEvent<FromWorklet>) => this.take(event.data);
    this.node.onprocessorerror = () =>
      (this.problem = 'The sound engine stopped. Reload the page to start it again.');
    this.node.connect(this.context.destination);
    for (const [message, transfer] of this.waitingMessages) this.node.port.postMessage(message, transfer);
    this.waitingMessages = [];
  }

  /** Loads the sound engine: again, with growing pauses, where that fails. */
  private async load(worklet: AudioWorklet): Promise<void> {
    const pauses = new Pauses();
    for (let times = 0; !this.closed; times += 1) {
      try {
        // A worklet remembers what it could not load by its address.
        await worklet.addModule(times > 0 ? `${workletUrl}?${times}` : workletUrl);
        if (this.problem === NO_ENGINE) this.problem = '';
        return;
      } catch {
        this.problem = NO_ENGINE;
        await new Promise((resolve) => setTimeout(resolve, pauses.grow()));
      }
    }
  }

  private take(message: FromWorklet): void {
    switch (message.kind) {
      case 'strips':
        this.meters.setLayout(JSON.parse(decoder.decode(message.strips)));
        return;
      case 'followed':
        this.settle(message.side, true);
        return this.followers[message.side]?.followed(message.messages);
      case 'stands':
        return this.settle(message.side, true);
      case 'failed':
        this.problem = JSON.parse(decoder.decode(message.answer)).error;
        return;
      case 'restarted':
        this.problem = 'The sound engine failed and was started anew; the session is as it was.';
        return void this.startAnew();
      case 'watched': {
        const half = message.values.length / 2;
        if (this.playing)
          this.watched = { before: message.values.subarray(0, half), behind: message.values.subarray(half) };
        return;
      }
      case 'meters':
        this.sounds();
        if (this.playing) this.position = message.position;
        this.meters.take(message.values, message.lufs, message.truePeak);
        if (message.fault > 0) this.fault = message.fault;
        // The worklet writes into it again, so that nothing has to be collected there.
        this.send({ kind: 'spent', values: message.values }, [message.values.buffer]);
    }
  }

  /** Gives an engine that begins anew what the one before had. */
  private async startAnew(): Promise<void> {
    this.known.clear();
    this.follower.begin();
    if (this.looped) this.send({ kind: 'loop', from: this.looped[0], to: this.looped[1] });
    this.send({ kind: 'seek', frame: this.position });
    // The engine forgets its sides where it begins: they come behind its words.
    await Promise.resolve();
    const { heard, levels } = this;
    for (const [side, sound] of this.beside.entries()) if (sound) this.put(side, sound);
    if (heard > 0) {
      this.hear(0, levels);
      void this.standing(heard).then((stands) => stands && this.hear(heard, levels));
    } else if (this.beside.some(Boolean)) this.hear(0, levels);
    await this.fetchVoiced(this.desk.document());
    if (this.playing) this.send({ kind: 'play' });
  }

  private send(message: ToWorklet, transfer: Transferable[] = []): void {
    if (this.node) this.node.port.postMessage(message, transfer);
    else this.waitingMessages.push([message, transfer]);
  }

  /** Follows a change of the document, and fetches audio that is new. */
  patch(patch: Patch): void {
    // Where the core on the page began anew, numbers are others.
    if (this.follower.isLost) void this.startAnew();
    else for (const follower of this.followers) follower?.changed();
    const fresh = patch.voices?.set.some((voice) => assetsOf(voice).some((id) => !this.known.has(id)));
    if (fresh) void this.fetchVoiced(this.desk.document());
  }

  /** Puts a sound on a side from 1, or takes it away. */
  put(side: number, sound: SideSound | undefined): void {
    const before = this.beside[side];
    this.beside[side] = sound;
    this.followers[side] = undefined;
    this.settle(side, false);
    if (sound?.kind !== 'session') this.desk.side(side, null);
    if (before?.kind === 'recording' && (sound?.kind !== 'recording' || sound.id !== before.id))
      this.letGo(before);
    if (!sound) return this.send({ kind: 'nothing', side });
    if (sound.kind === 'session') {
      this.desk.side(side, sound.what);
      const { desk } = this;
      const source = {
        engine: (fresh: boolean) => desk.sideEngine(side, fresh),
        get beginnings() {
          return desk.beginnings;
        },
      };
      this.followers[side] = new Follower(source, (words, begin) =>
        this.send({ kind: 'words', side, words, begin }, [words]),
      );
      this.followers[side].changed();
      if (sound.what !== 'without') void this.fetchVoiced(sound.what.document);
      return;
    }
    const { id, channels, pcm, way } = sound;
    const number = this.desk.audioNumber(id);
    this.send({ kind: 'recording', side, number, ...way });
    if (this.known.has(id)) return;
    this.known.add(id);
    pcm()
      .then((samples) => {
        this.overviews[id] = overview(new Float32Array(samples), channels);
        this.send({ kind: 'audio', number, channels, pcm: samples }, [samples]);
      })
      .catch((error: unknown) => {
        this.known.delete(id);
        this.settle(side, false);
        this.problem = `${sound.name} could not be fetched: ${error instanceof Error ? error.message : error}`;
      });
  }

  /** Audio of a recording leaves the engine where no voice plays it. */
  private letGo({ id }: { id: string }): void {
    const { voices } = this.desk.document();
    if (voices.some((voice) => assetsOf(voice).includes(id))) return;
    if (this.beside.some((sound) => sound?.kind === 'recording' && sound.id === id)) return;
    this.known.delete(id);
    this.send({ kind: 'unshelve', number: this.desk.audioNumber(id) });
  }

  /** Once a side can be heard; false where it became another meanwhile, or its audio cannot be had. */
  standing(side: number): Promise<boolean> {
    if (this.stands[side]) return Promise.resolve(true);
    return new Promise((resolve) => this.awaited.push({ side, resolve }));
  }

  /** A side can be heard, or not. */
  private settle(side: number, stands: boolean): void {
    this.stands[side] = stands;
    for (const waiting of this.awaited) if (waiting.side === side) waiting.resolve(stands);
    this.awaited = this.awaited.filter((waiting) => waiting.side !== side);
  }

  /** Hears a side, each at a level in dB. */
  hear(side: number, levels: Levels): void {
    [this.heard, this.levels] = [side, levels];
    this.send({ kind: 'hear', side, levels });
  }

  /** Hears now, at the level that it has beside other sides. */
  hearNow(): void {
    if (this.heard !== 0) this.hear(0, this.levels);
  }

  private fetchVoiced({ assets, voices }: Session): Promise<void> {
    const voiced = new Set(voices.flatMap(assetsOf));
    return this.fetchAssets(assets.filter((asset) => voiced.has(asset.id)));
  }

  private async fetchAssets(assets: AssetRef[]): Promise<void> {
    const fresh = assets.filter((asset) => !this.known.has(asset.id));
    fresh.forEach((asset) => this.known.add(asset.id));
    this.waiting += fresh.length;
    const fetchOne = async () => {
      for (let asset = fresh.shift(); asset; asset = fresh.shift()) {
        const { id, name } = asset;
        const others = (ids: string[]) => ids.filter((other) => other !== id);
        try {
          this.keep(asset, await api.asset(id));
          [this.missing, this.late] = [others(this.missing), others(this.late)];
        } catch (error) {
          this.known.delete(id);
          if (error instanceof ApiError && error.status === 404) {
            [this.missing, this.late] = [[...others(this.missing), id], others(this.late)];
            this.problem = `${name} could not be fetched: ${error.message}`;
          } else this.late = [...others(this.late), id];
        }
        this.waiting -= 1;
      }
    };
    await Promise.all(Array.from({ length: FETCHES }, fetchOne));
    this.comeBack();
  }

  /** Audio that could not be had is asked for again after a while, and said until it is there. */
  private comeBack(): void {
    if (this.problem.startsWith(LATE)) this.problem = '';
    if (this.late.length === 0) return this.pauses.reset();
    const { assets } = this.desk.document();
    const [first, ...more] = assets.filter((asset) => this.late.includes(asset.id));
    if (first && this.problem === '')
      this.problem = `${LATE}${first.name}${more.length > 0 ? ` and ${more.length} more` : ''}. Trying again …`;
    if (this.again !== undefined) return;
    this.again = setTimeout(() => {
      this.again = undefined;
      const doc = this.desk.document();
      // What nobody plays any more is not waited for.
      const voiced = new Set(doc.voices.flatMap(assetsOf));
      this.late = this.late.filter((id) => voiced.has(id));
      void this.fetchAssets(doc.assets.filter((asset) => this.late.includes(asset.id)));
    }, this.pauses.grow());
  }

  private keep(asset: AssetRef, pcm: ArrayBuffer): void {
    this.overviews[asset.id] = overview(new Float32Array(pcm), asset.channels);
    const number = this.desk.audioNumber(asset.id);
    this.send({ kind: 'audio', number, channels: asset.channels, pcm }, [pcm]);
  }

  /** Browsers let a page sound only after a click; this is called from one. */
  private wake(): void {
    this.wanted = true;
    void this.context?.resume();
  }

  /** Without an output device the clock of a browser may stand still, and nothing says so. */
  private expectSound(): void {
    clearTimeout(this.silent);
    this.silent = setTimeout(() => {
      // While the engine is on its way, that is what is waited for.
      if (this.playing && this.node) this.problem = NO_SOUND;
    }, SOUNDS_MS);
  }

  /** Looks whether sound comes in time, as long as it plays. */
  private watchClock(): void {
    clearInterval(this.looking);
    this.lateness.forget();
    this.looking = setInterval(() => {
      const { context } = this;
      if (!context || context.state !== 'running') return this.lateness.forget();
      if (this.lateness.look(context)) {
        this.meters.painter.ease();
        this.onbreak();
      }
      this.strained = this.lateness.strained(performance.now());
    }, LOOK_MS);
  }

  private sounds(): void {
    clearTimeout(this.silent);
    if (this.problem === NO_SOUND) this.problem = '';
  }

  play(): void {
    this.wake();
    this.expectSound();
    this.meters.restart();
    this.playing = true;
    this.watchClock();
    this.send({ kind: 'play' });
  }

  stop(): void {
    this.playing = false;
    clearInterval(this.looking);
    this.strained = false;
    this.send({ kind: 'stop' });
  }

  seek(frame: number): void {
    this.position = frame;
    this.send({ kind: 'seek', frame });
  }

  loop(from: number, to: number): void {
    this.looped = [from, to];
    this.send({ kind: 'loop', from, to });
  }

  /** Plays one hit: all layers, or one of them; some semitones away where notes have pitch. */
  audition(voice: number, layer = -1, tuneSt = 0): void {
    this.wake();
    // It is a sound of now.
    this.hearNow();
    this.send({ kind: 'audition', voice, layer, tuneSt });
  }

  /** Lets what a processor's key hears out instead of main, or what it takes away; or main again. */
  listen(strip: number, processor: number | undefined, taken = false): void {
    if (processor !== undefined) this.hearNow();
    [this.listening, this.taken] = [processor, processor !== undefined && taken];
    this.send({ kind: 'listen', strip: processor ? strip : 0, processor: processor ?? 0, taken });
  }

  /** Passes processors by at levels that make it fair, and no others. */
  passBy(bypass: Bypass): void {
    if (bypass.processors.length > 0) this.hearNow();
    this.send({ kind: 'passBy', bypass: encoder.encode(JSON.stringify(bypass)) });
  }

  /** Watches the sound before and behind a processor, or at a strip's end without one; nothing without a strip. */
  watch(strip: number, processor: number): void {
    this.watched = undefined;
    this.send({ kind: 'watch', strip, processor });
  }

  async close(): Promise<void> {
    this.closed = true;
    clearTimeout(this.silent);
    clearTimeout(this.again);
    clearInterval(this.looking);
    this.node?.disconnect();
    await this.context?.close();
  }
}

/** Slices of an overview. */
const SLICES = 480;

/** Peaks of equal slices of a sound. */
function overview(samples: Float32Array, channels: number): Float32Array {
  const slices = new Float32Array(SLICES);
  const frames = samples.length / channels;
  for (let slice = 0; slice < slices.length; slice += 1) {
    const from = Math.floor((slice * frames) / slices.length) * channels;
    const to = Math.max(from + 1, Math.floor(((slice + 1) * frames) / slices.length) * channels);
    let peak = 0;
    for (let at = from; at < to && at < samples.length; at += 1)
      peak = Math.max(peak, Math.abs(samples[at] ?? 0));
    slices[slice] = peak;
  }
  return slices;
}
