/** Answers questions about a session as it is played, beside the page: the same core offline, in pieces, so that a run can
 *  say how far it is and be called off. */
import type { Answer, AssetRef } from '$lib/api/types';
import { ours } from '$lib/api/problem';
import type { FromGauge, GaugeRun, ToGauge } from './messages';
import { instantiate, readOutput, writeInput, type LaneExports } from './wasm';

const encoder = new TextEncoder();
const decoder = new TextDecoder();
/** Frames heard between two looks at what the page says: some ms, so that sound beside it is never late by it. */
const PIECE = 8192;
/** Time between two messages about how far a run is. */
const TOLD_MS = 40;
/** For so many ms after sound broke, each piece is followed by a pause as long as it took, so that half a core is left. */
const EASED_MS = 10_000;
/** How often one that rests looks whether it may go on. */
const REST_MS = 20;
/** Assets fetched at a time. */
const FETCHES = 6;

let lane: LaneExports | undefined;
/** What was heard last, as long as nothing else was since. */
let heard: string | undefined;
/** The newest question that was not called off. */
let newest = 0;
/** Nothing is heard before then, in ms of the worker. */
let rests = 0;
/** Until then, in ms of the worker, it works half of the time. */
let eased = 0;

type Said<T = FromGauge> = T extends unknown ? Omit<T, 'turn'> : never;
const tell = (turn: number, message: Said) => postMessage({ turn, ...message });

function ask<T>(lane: LaneExports, length: number): T {
  const answer: unknown = JSON.parse(decoder.decode(readOutput(lane, length)));
  if (answer !== null && typeof answer === 'object' && 'error' in answer)
    throw new Error(String(answer.error));
  return answer as T;
}
const send = (lane: LaneExports, value: unknown) => writeInput(lane, encoder.encode(JSON.stringify(value)));

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** Lets the page be heard. */
const { port1, port2 } = new MessageChannel();
const breath = () =>
  new Promise<void>((resolve) => {
    port1.onmessage = () => resolve();
    port2.postMessage(0);
  });

/** The samples of audio; nothing where it is missing. What cannot be had now would be measured as silence. */
async function fetchAudio(id: string, name: string): Promise<ArrayBuffer | undefined> {
  const response = await fetch(`/api/assets/${id}`).catch(() => {
    throw new Error('The server cannot be reached. Try again in a moment.');
  });
  if (response.status === 404) return undefined;
  if (!response.ok) throw new Error(`${name} could not be fetched. Try again in a moment.`);
  return ours(response).arrayBuffer();
}

/** Hands audio over under an address of 64 characters. */
function keep(lane: LaneExports, asset: string, channels: number, pcm: ArrayBuffer): void {
  writeInput(lane, encoder.encode(addressOf(asset)), new Uint8Array(pcm));
  ask(lane, lane.gauge_asset(channels));
}
const addressOf = (asset: string): string => asset.padEnd(64, ' ').slice(0, 64);

async function fetchAll(lane: LaneExports, missing: AssetRef[]): Promise<void> {
  const fetchOne = async () => {
    for (let asset = missing.shift(); asset; asset = missing.shift()) {
      const pcm = await fetchAudio(asset.id, asset.name);
      // Missing audio is silent here as it is when playing; the board says so.
      if (pcm) keep(lane, asset.id, asset.channels, pcm);
    }
  };
  await Promise.all(Array.from({ length: FETCHES }, fetchOne));
}

async function work(run: GaugeRun): Promise<void> {
  const { turn, question, key, recording, from, to } = run;
  if (turn !== newest) return tell(turn, { kind: 'ended' });
  tell(turn, { kind: 'progress', part: 0 });
  lane ??= instantiate(run.module);
  const again = key !== undefined && key === heard;
  heard = undefined;
  if (!again) {
    writeInput(lane, encoder.encode(run.heard));
    ask(lane, lane.gauge_open());
  }
  if (recording) keep(lane, recording.asset, recording.channels, recording.pcm);
  send(
    lane,
    question.about === 'side_recording' ? { ...question, asset: addressOf(question.asset) } : question,
  );
  await fetchAll(lane, ask<AssetRef[]>(lane, lane.gauge_ask(from, to)));
  ask(lane, lane.gauge_begin(again ? 1 : 0));
  let told = performance.now();
  for (let part = 0; part < 1;) {
    const began = performance.now();
    part = lane.gauge_step(PIECE);
    const ended = performance.now();
    if (ended < eased) await pause(ended - began);
    if (part === 1 || performance.now() - told > TOLD_MS) {
      told = performance.now();
      tell(turn, { kind: 'progress', part });
    }
    await breath();
    while (turn === newest && performance.now() < rests) await pause(REST_MS);
    if (turn !== newest) return tell(turn, { kind: 'ended' });
  }
  tell(turn, { kind: 'answer', answer: ask<Answer>(lane, lane.gauge_answer()) });
  heard = key;
}

let running: Promise<void> = Promise.resolve();

onmessage = (event: MessageEvent<ToGauge>) => {
  const message = event.data;
  if (message.kind === 'rest') {
    [rests, eased] = [performance.now() + message.ms, performance.now() + message.ms + EASED_MS];
    return;
  }
  newest = message.kind === 'ask' ? message.turn : 0;
  if (message.kind === 'cancel') return;
  running = running
    .then(() => work(message))
    .catch((error: unknown) =>
      tell(message.turn, { kind: 'failed', error: error instanceof Error ? error.message : String(error) }),
    );
};
