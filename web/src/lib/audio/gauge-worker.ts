/** Measuring runs beside the page: the same core offline, in pieces, so that a run can say how far it is. */
import { assetsOf } from './voiced';
import type { GaugeAnswer, GaugeRun, HeardRecording } from './messages';
import { instantiate, readOutput, writeInput, type LaneExports } from './wasm';

const encoder = new TextEncoder();
const decoder = new TextDecoder();
/** Frames between two messages about how far a run is. */
const PIECE = 48_000;
/** How faint a hit of a recording is found: 0 the strongest alone, 1 the faintest too. */
const SENSITIVITY = 0.5;
/** Assets fetched at a time. */
const FETCHES = 6;

let lane: LaneExports | undefined;
const known = new Set<string>();
/** What parallel paths were heard last, as long as nothing else was since. */
let heard: string | undefined;

const tell = (message: GaugeAnswer) => postMessage(message);

function ask(length: number): unknown {
  if (!lane) throw new Error('nothing is loaded');
  const answer: unknown = JSON.parse(decoder.decode(readOutput(lane, length)));
  if (answer !== null && typeof answer === 'object' && 'error' in answer)
    throw new Error(String(answer.error));
  return answer;
}

/** The samples of audio; nothing where it is missing. What cannot be had now would be measured as silence. */
async function fetchAudio(id: string, name: string): Promise<ArrayBuffer | undefined> {
  const response = await fetch(`/api/assets/${id}`).catch(() => {
    throw new Error('The server cannot be reached. Try again in a moment.');
  });
  if (response.status === 404) return undefined;
  if (!response.ok) throw new Error(`${name} could not be fetched. Try again in a moment.`);
  return response.arrayBuffer();
}

async function fetchAssets(run: GaugeRun): Promise<void> {
  // What is only held against the mix is not played by it.
  const voiced = new Set(run.session.voices.flatMap(assetsOf));
  const fresh = run.session.assets.filter((asset) => voiced.has(asset.id) && !known.has(asset.id));
  const fetchOne = async () => {
    for (let asset = fresh.shift(); asset; asset = fresh.shift()) {
      const bytes = await fetchAudio(asset.id, asset.name);
      // Missing audio is silent here as it is when playing; the board says so.
      if (!bytes || !lane) continue;
      writeInput(lane, encoder.encode(asset.id), new Uint8Array(bytes));
      ask(lane.gauge_asset(asset.channels));
      known.add(asset.id);
    }
  };
  await Promise.all(Array.from({ length: FETCHES }, fetchOne));
}

/** Brings the audio of a recording in, hears it as a side, and lets go of it. */
async function hearRecording(run: GaugeRun, recording: HeardRecording, send: Send): Promise<void> {
  if (!lane) return;
  const { asset, channels, pcm, ...way } = recording;
  const there = known.has(asset);
  if (!there) {
    const bytes = pcm ?? (await fetchAudio(asset, 'The reference'));
    if (!bytes) throw new Error('The audio of the reference is gone. Bring it in again.');
    writeInput(lane, addressOf(asset), new Uint8Array(bytes));
    ask(lane.gauge_asset(channels));
  }
  send(run.session);
  ask(lane.gauge_open());
  send({ asset: decoder.decode(addressOf(asset)), ...way });
  ask(lane.gauge_side_recording(run.from, run.to));
  steps(lane);
  tell({ kind: 'heard', heard: ask(lane.gauge_heard()) as never });
  if (there) return;
  send(decoder.decode(addressOf(asset)));
  ask(lane.gauge_let_go());
}

/** The 64 characters that audio is kept under. */
const addressOf = (asset: string): Uint8Array => encoder.encode(asset.padEnd(64, ' ').slice(0, 64));

function steps(lane: LaneExports): void {
  for (let part = 0; part < 1;) {
    part = lane.gauge_step(PIECE);
    tell({ kind: 'progress', part });
  }
}

async function work(run: GaugeRun): Promise<void> {
  lane ??= instantiate(run.module);
  const send = (value: unknown) => lane && writeInput(lane, encoder.encode(JSON.stringify(value)));
  const { ducks, paths, side } = run;
  if (side && 'recording' in side) {
    heard = undefined;
    return hearRecording(run, side.recording, send);
  }
  if (!paths || paths.key !== heard) {
    heard = undefined;
    await fetchAssets(run);
    open(lane, run, send);
    if (run.recorded !== undefined) {
      const hits = ask(lane.gauge_recorded(run.recorded, SENSITIVITY)) as never;
      return tell({ kind: 'recorded', hits });
    }
    start(lane, run, send);
    steps(lane);
  }
  if (side) return tell({ kind: 'heard', heard: ask(lane.gauge_heard()) as never });
  if (paths) {
    heard = paths.key;
    const { goal, budget_db, fader_db } = paths;
    send({ goal, budget_db, fader_db });
    return tell({ kind: 'pathed', pathed: ask(lane.gauge_pathed()) as never });
  }
  if (!ducks) return tell({ kind: 'found', found: ask(lane.gauge_read()) as never });
  send({
    goal: ducks.goal ? [ducks.focus, ducks.goal] : null,
    room: ducks.room ? ducks.focus : null,
  });
  tell({ kind: 'ducked', ducked: ask(lane.gauge_ducked()) as never });
}

type Send = (value: unknown) => void;

/** Opens the document that is measured. */
function open(lane: LaneExports, run: GaugeRun, send: Send): void {
  send(run.session);
  ask(lane.gauge_open());
  send(run.edits);
  ask(lane.gauge_apply());
}

/** Begins the run that is asked for. */
function start(lane: LaneExports, { from, to, ducks, paths, side, without }: GaugeRun, send: Send): void {
  if (side) return void ask(lane.gauge_side(from, to, 'without' in side && side.without ? 1 : 0));
  // A question is about one alone.
  if (ducks) ask(lane.gauge_ducks(from, to, ducks.focus, ducks.goal || ducks.room ? 1 : 0));
  else if (paths) {
    send(paths.asked);
    ask(lane.gauge_paths(from, to));
  } else ask(lane.gauge_start(from, to, without ? 1 : 0));
}

onmessage = (event: MessageEvent<GaugeRun>) => {
  work(event.data).catch((error: unknown) =>
    tell({ kind: 'failed', error: error instanceof Error ? error.message : String(error) }),
  );
};
