<!-- The frame: header, stage rail, board, bench; keys that work anywhere. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import Bench from '../board/Bench.svelte';
  import Board from '../board/Board.svelte';
  import Header from '../board/Header.svelte';
  import Heard from '../board/Heard.svelte';
  import Sure from '$lib/ui/Sure.svelte';
  import Rail from '../board/Rail.svelte';
  import BlindView from '../stages/compare/BlindView.svelte';
  import WhereTo from '../stages/bring-in/WhereTo.svelte';
  import Shortcuts from '../board/Shortcuts.svelte';
  import SignInAgain from '../board/SignInAgain.svelte';
  import { STAGES } from '../stages/registry';
  import type { Voice } from '$lib/api/types';
  import { share, type Desktop } from '$stages/desktop';
  import { dropped } from '$stages/bring-in/incoming/unpack';

  let { desktop, account }: { desktop: Desktop; account: string } = $props();
  // The page is made anew for every session, so what it is given never changes.
  // svelte-ignore state_referenced_locally
  const { session, player, board, bringIn, trackOut, sides, versions, blind, compare, paths } =
    share(desktop);

  let shortcuts = $state(false);
  let dropping = $state(false);
  let overLane = $state<string>();

  // Stages are steps of the browser's history.
  history.replaceState({ stage: board.stage }, '');
  $effect(() => {
    if (history.state?.stage !== board.stage) history.pushState({ stage: board.stage }, '');
  });
  function back({ state }: PopStateEvent) {
    board.stage = STAGES.find((s) => s.id === state?.stage)?.id ?? board.stage;
  }

  $effect(() => session.follow());
  $effect(() => board.keep());
  $effect(() =>
    player.loop(board.frameOf(board.loopStart), board.frameOf(board.loopStart + board.loop.length)),
  );
  // What differs from a snapshot is worked out a moment after the last change.
  const CALM_MS = 200;
  $effect(() => {
    void [session.settledDoc, versions.other];
    const timer = setTimeout(() => untrack(() => versions.compare()), CALM_MS);
    return () => clearTimeout(timer);
  });
  $effect(() => {
    void [session.doc.references, session.header, session.settledDoc.strips];
    untrack(() => sides.follow());
  });
  $effect(() => versions.keepFigures());
  void trackOut.refresh();
  void sides.restore();

  const toggle = () => {
    if (player.playing) return player.stop();
    const [from, to] = [board.loopStart, board.loopStart + board.loop.length];
    if (board.positionBars < from || board.positionBars >= to) player.seek(board.frameOf(from));
    return player.play();
  };

  /** Header, stages, rows, bench: each begins with what is chosen in it. */
  function nextRegion(by: 1 | -1) {
    const regions = ['header', 'nav', '[role=grid]', '[data-bench]'].flatMap((selector) => {
      const region = document.querySelector<HTMLElement>(selector);
      return region ? [region] : [];
    });
    const here = regions.findIndex((r) => r.contains(document.activeElement));
    const region = regions[(here + by + regions.length) % regions.length];
    const start =
      '[aria-current=page], [role=row][aria-selected=true], [role=tab][aria-selected=true], button:not([disabled])';
    region?.querySelector<HTMLElement>(start)?.focus();
  }

  function key(event: KeyboardEvent) {
    const at = event.target as HTMLElement;
    if (at.closest('input, textarea, select, [contenteditable], [role=dialog], [role=menu]')) return;
    const control = event.ctrlKey || event.metaKey;
    if (control && event.key.toLowerCase() === 'z') {
      event.preventDefault();
      if (event.shiftKey) session.redo();
      else session.undo();
    } else if (control && event.key.toLowerCase() === 'y') {
      event.preventDefault();
      session.redo();
    } else if (control || event.altKey) {
      return;
    } else if (event.key === 'F6') {
      event.preventDefault();
      nextRegion(event.shiftKey ? -1 : 1);
    } else if (['ArrowUp', 'ArrowDown'].includes(event.key) && at === document.body) {
      event.preventDefault();
      board.step(event.key === 'ArrowUp' ? -1 : 1);
      document.getElementById(`row-${board.selected.at(-1)}`)?.focus();
    } else if ((event.key === ' ' && !at.closest('button, [role=checkbox], a')) || event.key === 'p') {
      event.preventDefault();
      void toggle();
    } else if (sides.hidden) {
      blindKey(event);
    } else if (event.key.toLowerCase() === 'x') {
      other();
      void sides.next(event.shiftKey ? -1 : 1);
    } else if (event.shiftKey && /^Digit[123]$/.test(event.code)) {
      const side = Number(event.code.at(-1)) - 1;
      other();
      if (side < sides.all.length) void sides.hear(side);
    } else if (STAGES.some((s) => s.key === event.key) && !at.closest('[role=spinbutton]')) {
      board.stage = STAGES.find((s) => s.key === event.key)?.id ?? board.stage;
    } else if (event.key === 'm' || event.key === 's') {
      const { strips } = board;
      const what = event.key === 'm' ? 'mute' : 'solo';
      const to = !board.current?.strip[what];
      if (strips.length > 0) session.apply({ kind: 'set_strips', strips, change: { what, to } });
    } else if (event.key === 'c') {
      player.meters.clearPeaks();
    } else if (event.key === '?') {
      shortcuts = true;
    } else if (event.key === 'Home') {
      player.seek(board.frameOf(board.loopStart));
    }
  }
  /** What is heard otherwise than by sides ends. */
  function other() {
    compare.end();
    paths.end();
  }
  function blindKey(event: KeyboardEvent) {
    const letters = blind.round?.kind === 'recognition' ? 'ab' : '123';
    const place = letters.indexOf(event.key.toLowerCase());
    if (event.key.toLowerCase() === 'x' && letters === 'ab') blind.hear('x');
    else if (place >= 0 && place < (blind.round?.order.length ?? 0)) blind.hear(place);
    else if (event.key === 'Escape') blind.end();
  }
  /**
   * A press with the pointer leaves the focus on the board, so that Space plays after it and presses nothing twice. Somebody
   * who came to a button by keyboard stays there.
   */
  function pressed(event: MouseEvent) {
    const byPointer = event.detail > 0;
    const at = (event.target as HTMLElement).closest('button, input[type=checkbox]');
    if (!byPointer || !at || at.matches('[aria-haspopup]') || at.closest('[role=dialog]')) return;
    const row = document.getElementById(`row-${board.selected.at(-1)}`);
    if (document.activeElement === at || document.activeElement === document.body)
      row?.focus({ preventScroll: true });
  }
  /** The lane under the pointer. */
  function laneAt(event: DragEvent): Voice | undefined {
    const key = (event.target as HTMLElement).closest?.('[data-row]')?.id.replace('row-', '');
    return board.rows.find((r) => r.key === key)?.voice;
  }
  function drop(event: DragEvent) {
    event.preventDefault();
    const lane = laneAt(event)?.id;
    dropping = false;
    board.stage = 'bring-in';
    if (event.dataTransfer) void dropped(event.dataTransfer).then((entries) => bringIn.take(entries, lane));
  }
  function over(event: DragEvent) {
    if (!event.dataTransfer?.types.includes('Files')) return;
    event.preventDefault();
    dropping = true;
    overLane = laneAt(event)?.name;
  }
</script>

<svelte:head><title>{session.header.title} · Zealous Lane</title></svelte:head>
<svelte:window
  onkeydown={key}
  onclickcapture={pressed}
  ondragover={over}
  ondragleave={(event) => event.relatedTarget === null && (dropping = false)}
  ondrop={drop}
  onpopstate={back}
  onbeforeunload={(event) =>
    (session.saving === 'waiting' || session.trial?.heard === false || bringIn.running || bringIn.asking) &&
    event.preventDefault()}
/>

<div class="grid h-full min-w-[1024px] grid-cols-[96px_1fr] grid-rows-[60px_1fr]">
  <Header ontoggle={toggle} onshortcuts={() => (shortcuts = true)} />
  <div class="contents" inert={sides.hidden}><Rail /></div>
  <main class="bg-panel relative flex min-h-0 min-w-0 flex-col">
    {#if sides.hidden}
      <BlindView />
    {:else}
      <Heard />
      <Board />
      <Bench />
    {/if}
    {#if dropping}
      <div
        class="border-ink bg-panel/90 pointer-events-none absolute inset-3 grid place-items-center rounded-md border-2 border-dashed"
      >
        <p class="text-center text-[15px] font-semibold">
          {#if overLane}
            One sound dropped here is the sound of {overLane}; several find their lanes by name
          {:else}
            Drop one-shots, recordings, a folder, a ZIP file or MIDI
          {/if}
        </p>
      </div>
    {/if}
  </main>
</div>
<WhereTo />
<Shortcuts bind:open={shortcuts} />
<Sure
  asks={session.asking && 'Something would go with it'}
  said="{session.asking?.losses.join('; ') ?? ''}. Undo brings it back."
  verb="Go on"
  onanswer={(sure) => session.answer(sure)}
/>
<SignInAgain {account} />
