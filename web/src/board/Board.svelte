<!-- Rows: lanes, buses, main. The left part is always the same; the stage decides the rest. -->
<script lang="ts">
  import { tick } from 'svelte';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import MeterSurface from '$lib/ui/MeterSurface.svelte';
  import { Filling } from './filling.svelte';
  import FoldHead from './FoldHead.svelte';
  import Head from './Head.svelte';
  import { movesTo, nextTo } from '$lib/state/rows';
  import type { Edit } from '$lib/api/types';
  import { STAGES } from '../stages/registry';

  const { session, player, board } = desktop();

  const stage = $derived(STAGES.find((s) => s.id === board.stage) ?? STAGES[0]);

  const filling = new Filling(() => ({ of: stage, rows: board.lines.length }));

  const focusRow = (row: string | undefined) => document.getElementById(`row-${row}`)?.focus();
  function key(event: KeyboardEvent) {
    const at = event.target as HTMLElement;
    if (at.closest('input, select, [role=spinbutton], [role=gridcell] [role=grid]')) return;
    const by = ({ ArrowUp: -1, ArrowDown: 1 } as const)[event.key];
    const focused = at.closest<HTMLElement>('[data-row]');
    if (by && event.ctrlKey) {
      // Walks without choosing; Ctrl and Space choose rows apart.
      event.preventDefault();
      const keys = board.shown.map((r) => r.key);
      const next = keys[keys.indexOf(focused?.id.replace('row-', '') ?? '') + by];
      if (next) focusRow(next);
    } else if (event.key === ' ' && event.ctrlKey && focused) {
      event.preventDefault();
      board.select(focused.id.replace('row-', ''), event);
    } else if (by && event.altKey) {
      event.preventDefault();
      const shown = board.shown.flatMap((r) => (r.voice ? [r.voice.id] : []));
      const next = nextTo(shown, chosenVoices(), by);
      if (next !== undefined) move(movesTo(voices(), chosenVoices(), next));
    } else if (by) {
      event.preventDefault();
      if (event.shiftKey) {
        const keys = board.shown.map((r) => r.key);
        const next = keys[keys.indexOf(board.selected.at(-1) ?? '') + by];
        if (next) board.selected = [...board.selected.filter((k) => k !== next), next];
      } else {
        board.step(by);
      }
      focusRow(board.selected.at(-1));
    } else if (event.key === 'Delete') {
      const voices = chosenVoices();
      // What stands behind them is chosen next.
      const keys = board.shown.map((r) => r.key);
      const last = Math.max(...board.selected.map((k) => keys.indexOf(k)));
      const left = keys.filter((k) => !board.selected.includes(k));
      const next = keys.slice(last + 1).find((k) => left.includes(k)) ?? left.at(-1);
      if (voices.length > 0 && session.apply({ kind: 'remove_voices', voices }) && next) {
        board.selected = [next];
        void tick().then(() => focusRow(next));
      }
    }
  }

  let dragged = $state<string>();
  let overRow = $state<string>();
  const voices = () => board.doc.voices.map((v) => v.id);
  const chosenVoices = () => board.chosen.flatMap((row) => (row.voice ? [row.voice.id] : []));
  function move(moves: { what: number; to: number }[]) {
    const edits = moves.map(({ what, to }): Edit => ({ kind: 'move_voice', voice: what, to }));
    if (edits.length > 0) session.apply(edits.length === 1 ? (edits[0] as Edit) : { kind: 'batch', edits });
  }
  /** A row that is dragged takes all chosen ones along where it is one of them. */
  function drop(key: string) {
    const voice = board.rows.find((r) => r.key === dragged)?.voice;
    const to = board.rows.find((r) => r.key === key)?.voice;
    const chosen = chosenVoices();
    if (voice && to && voice.id !== to.id)
      move(movesTo(voices(), chosen.includes(voice.id) ? chosen : [voice.id], to.id));
    dragged = overRow = undefined;
  }
</script>

<svelte:window bind:innerHeight={board.windowHeight} />
<div class="text-second flex h-7 shrink-0 items-center text-[12px]">
  <div class="flex w-(--row-head) shrink-0 items-center pl-9">
    <span class="w-12">Lane</span>
    <input
      type="search"
      aria-label="Show rows by name"
      placeholder="filter"
      class="w-14 rounded-sm px-1 focus:bg-(--raised)"
      bind:value={board.filter}
    />
    <button
      class="hover:bg-chosen ml-1 rounded-sm px-1 {board.folded ? 'bg-chosen text-ink' : ''}"
      aria-pressed={board.folded}
      title="Lanes under the heads of their families"
      onclick={() => (board.folded = !board.folded)}>families</button
    >
    <span class="ml-auto pr-3 whitespace-nowrap">After fader</span>
  </div>
  {#if stage}<stage.Columns />{/if}
</div>

<MeterSurface meters={player.meters} class="min-h-0 flex-1">
  <div class="border-line relative h-full overflow-x-hidden overflow-y-auto border-t">
    <!-- Its rows have the focus. -->
    <!-- svelte-ignore a11y_interactive_supports_focus -->
    <div
      class="contents select-none"
      role="grid"
      aria-label="Rows"
      aria-multiselectable="true"
      onkeydown={key}
    >
      {#each board.lines as line, at (line.key)}
        {#if line.fold}
          <div role="row" class="border-faint flex items-stretch border-b" style:height="{board.rowHeight}px">
            <div role="gridcell" class="contents"><FoldHead fold={line.fold} /></div>
          </div>
        {:else}
          {@const row = line.row}
          {@const chosen = board.selected.includes(row.key)}
          <!-- svelte-ignore a11y_click_events_have_key_events -->
          <div
            id="row-{row.key}"
            role="row"
            tabindex="0"
            aria-label={row.name}
            aria-selected={chosen}
            data-row={row.name}
            class="border-faint flex items-stretch border-b [content-visibility:auto] {chosen
              ? 'bg-chosen'
              : ''} {overRow === row.key ? 'border-t-ink border-t-2' : ''}"
            style:height="{board.rowHeight}px"
            onclick={(event) => board.select(row.key, event)}
            onpointerenter={() => board.stage === 'route' && (board.hovered = row.strip.id)}
            onpointerleave={() => (board.hovered = undefined)}
            ondragover={(event) => {
              if (dragged && row.voice) {
                event.preventDefault();
                overRow = row.key;
              }
            }}
            ondrop={() => drop(row.key)}
          >
            <div role="gridcell" class="contents">
              <Head
                {row}
                ondragstart={() => (dragged = row.key)}
                ondragend={() => (dragged = overRow = undefined)}
              />
            </div>
            {#if stage && filling.has(stage, at)}
              <div role="gridcell" class="contents"><stage.Cells {row} /></div>
            {/if}
          </div>
        {/if}
      {/each}
    </div>
    {#if board.lines.length === 0}
      <div class="grid h-40 place-items-center">
        <p class="text-second">
          No row is called “{board.filter}”. <Button kind="text" onclick={() => (board.filter = '')}
            >Show all</Button
          >
        </p>
      </div>
    {/if}
    {#if board.doc.voices.length === 0 && !board.filter}
      <p class="text-second py-12 text-center text-[15px]">
        Drop one-shots, recordings or a MIDI file anywhere; each becomes a lane.
      </p>
    {/if}
    {#if stage?.Over}<stage.Over />{/if}
  </div>
</MeterSurface>
