/** What every part of the session's page shares. */
import { getContext, setContext } from 'svelte';
import type { Player } from '$lib/audio/player.svelte';
import type { Blind } from './blind.svelte';
import type { BoardState } from './board.svelte';
import type { BringIn } from './bring-in.svelte';
import type { Compare } from './compare.svelte';
import type { Ducks } from './ducks.svelte';
import type { Gauge } from './gauge.svelte';
import type { Paths } from './paths.svelte';
import type { Sides } from './sides.svelte';
import type { SessionState } from './session.svelte';
import type { TrackOut } from './track-out.svelte';
import type { Versions } from './versions.svelte';

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
