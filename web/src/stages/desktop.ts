/** What every part of the session's page shares. */
import { getContext, setContext } from 'svelte';
import type { Player } from '$lib/audio/player.svelte';
import type { Blind } from './compare/blind.svelte';
import type { BoardState } from '$lib/state/board.svelte';
import type { BringIn } from './bring-in/bring-in.svelte';
import type { Compare } from './compare/compare.svelte';
import type { Ducks } from './duck/ducks.svelte';
import type { Gauge } from '$lib/state/gauge.svelte';
import type { Paths } from './parallel/paths.svelte';
import type { Sides } from './compare/sides.svelte';
import type { SessionState } from '$lib/state/session.svelte';
import type { TrackOut } from './track-out/track-out.svelte';
import type { Versions } from './compare/versions.svelte';

export interface Desktop {
  session: SessionState;
  player: Player;
  board: BoardState;
  bringIn: BringIn;
  trackOut: TrackOut;
  gauge: Gauge;
  ducks: Ducks;
  paths: Paths;
  compare: Compare;
  versions: Versions;
  sides: Sides;
  blind: Blind;
}

const KEY = Symbol('desktop');

export const share = (desktop: Desktop): Desktop => setContext(KEY, desktop);
export const desktop = (): Desktop => getContext<Desktop>(KEY);
