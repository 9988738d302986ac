<!-- One session: opened, shared with its parts, closed again. -->
<script lang="ts">
  import { api } from '$lib/api/client';
  import { Desk, loadModule } from '$lib/audio/desk';
  import { Player } from '$lib/audio/player.svelte';
  import { STAGES } from '../stages/registry';
  import { Blind } from '$stages/compare/blind.svelte';
  import { BoardState } from '$lib/state/board.svelte';
  import { Compare } from '$stages/compare/compare.svelte';
  import { Paths } from '$stages/parallel/paths.svelte';
  import { Versions } from '$stages/compare/versions.svelte';
  import { Ducks } from '$stages/duck/ducks.svelte';
  import { Gauge } from '$lib/state/gauge.svelte';
  import { BringIn } from '$stages/bring-in/bring-in.svelte';
  import type { Desktop } from '$stages/desktop';
  import { place } from '$lib/state/place.svelte';
  import { Sides } from '$stages/compare/sides.svelte';
  import { SessionState } from '$lib/state/session.svelte';
  import { Storage } from '$lib/sync/storage';
  import { TrackOut } from '$stages/track-out/track-out.svelte';
  import Button from '$lib/ui/Button.svelte';
  import Workplace from './Workplace.svelte';

  let { id, account }: { id: string; account: string } = $props();
  let desktop = $state.raw<Desktop>();
  let problem = $state('');
  let closed = false;

  async function open() {
    problem = '';
    try {
      // A browser may give no storage; then changes wait in this tab alone, and the page says so.
      const keep = Storage.open(account, id).catch(() => undefined);
      const [opened, module, storage] = await Promise.all([api.session(id), loadModule(), keep]);
      const left = (await storage?.takeOver()) ?? [];
      let session: SessionState | undefined = undefined;
      const revive = () => (session as SessionState | undefined)?.doc;
      const desk = new Desk(module, revive);
      const player = new Player(module, desk);
      session = new SessionState(opened, desk, player, storage, left);
      const board = new BoardState(session, STAGES);
      const gauge = new Gauge(session, board);
      player.onbreak = () => gauge.rest();
      const sides = new Sides(session, board, player, gauge);
      const versions = new Versions(session, sides);
      const before = (name: string) => versions.before(name);
      const ducks = new Ducks(session, board, gauge, before);
      session.renamed = (ids) => ducks.renamed(ids);
      const made = {
        gauge,
        ducks,
        paths: new Paths(session, board, gauge, player, before),
        versions,
        sides,
        blind: new Blind(sides, desk),
        compare: new Compare(session, player, gauge),
        session,
        player,
        board,
        bringIn: new BringIn(session, board),
        trackOut: new TrackOut(session, before),
      };
      if (closed) {
        void session.close();
        return void player.close();
      }
      desktop = made;
    } catch (error) {
      problem = (error as Error).message;
    }
  }

  $effect(() => {
    void open();
    return () => {
      closed = true;
      desktop?.trackOut.close();
      desktop?.gauge.close();
      void desktop?.session.close();
      void desktop?.player.close();
    };
  });
</script>

{#if problem}
  <main class="grid h-full place-content-center gap-3 text-center">
    <p role="alert">{problem}</p>
    <div>
      <Button onclick={open}>Try again</Button>
      <Button onclick={() => place.go('/')}>All sessions</Button>
    </div>
  </main>
{:else if desktop}
  <Workplace {desktop} {account} />
{:else}
  <main class="text-second grid h-full place-items-center" aria-busy="true">Opening the session …</main>
{/if}
