<!-- Rows: lanes, buses, main. The left part is always the same; the stage decides the rest. -->
<script lang="ts">
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Hits from '../stages/bring-in/Hits.svelte';
  import Source from '../stages/bring-in/Source.svelte';
  import PlayLine from '../stages/bring-in/PlayLine.svelte';
  import Stations from '../stages/levels/Stations.svelte';
  import Output from '../stages/route/Output.svelte';
  import Ribbons from '../stages/route/Ribbons.svelte';
  import Stem from '../stages/track-out/Stem.svelte';
  import Head from './Head.svelte';

  const { session, board } = desktop();

  const columns = {
    'bring-in': 'Sound',
    route: 'Goes to',
    levels: '',
    'track-out': '',
  };

  function key(event: KeyboardEvent) {
    const at = event.target as HTMLElement;
    if (at.closest('input, select, [role=spinbutton], [role=grid]')) return;
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (by) {
      event.preventDefault();
      if (event.shiftKey) {
        const keys = board.shown.map((r) => r.key);
        const next = keys[keys.indexOf(board.selected.at(-1) ?? '') + by];
        if (next) board.selected = [...board.selected.filter((k) => k !== next), next];
      } else {
        board.step(by);
      }
      document.getElementById(`row-${board.selected.at(-1)}`)?.focus();
    } else if (event.key === 'Delete') {
      const voices = board.chosen.flatMap((row) => (row.voice ? [row.voice.id] : []));
      if (voices.length > 0) session.apply({ kind: 'remove_voices', voices });
    }
  }

  let dragged = $state<string>();
  let overRow = $state<string>();
  function drop(key: string) {
    const voice = board.rows.find((r) => r.key === dragged)?.voice;
    const to = board.doc.voices.findIndex((v) => `v${v.id}` === key);
    if (voice && to >= 0) session.apply({ kind: 'move_voice', voice: voice.id, to });
    dragged = overRow = undefined;
  }
</script>

<div class="text-second flex h-7 shrink-0 items-center text-[12px]">
  <div class="flex w-[280px] shrink-0 items-center pl-9">
    <span class="w-12">Lane</span>
    <input
      type="search"
      aria-label="Show rows by name"
      placeholder="filter"
      class="w-14 rounded-sm px-1 focus:bg-(--raised)"
      bind:value={board.filter}
    />
    <span class="ml-auto pr-3 whitespace-nowrap">After fader, dBFS</span>
  </div>
  {#if board.stage === 'levels'}
    <span class="w-[150px] pl-2">Source</span><span class="w-[150px] pl-2">After trim</span>
    <span class="w-[150px] pl-2">After fader</span>
    {#each ['Trim', 'Polarity', 'Pan', 'Width', 'Fader'] as name (name)}
      <span class="w-[72px] text-right">{name}</span>
    {/each}
  {:else if board.stage === 'track-out'}
    <span class="w-[56px] pl-2">In</span><span class="w-[110px]">Tap</span>
    <span class="flex-1">File, as it will be</span><span class="w-[220px]">Last render: peak dBFS, LUFS</span>
  {:else}
    <span class="w-[130px] pl-2">{columns[board.stage]}</span>
    {#if board.stage === 'bring-in'}
      <span class="pl-2"
        >Hits in the loop: {board.loop[0]?.section.name ?? ''}, bars {board.loopStart + 1} to {board.loopStart +
          board.loop.length}</span
      >
    {/if}
  {/if}
</div>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
  class="border-line relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto border-t"
  role="list"
  onkeydown={key}
>
  {#each board.shown as row (row.key)}
    {@const chosen = board.selected.includes(row.key)}
    <!-- svelte-ignore a11y_no_noninteractive_element_interactions, a11y_click_events_have_key_events, a11y_no_noninteractive_tabindex -->
    <div
      id="row-{row.key}"
      role="listitem"
      tabindex="0"
      aria-label="{row.name}{chosen ? ', chosen' : ''}"
      data-row={row.name}
      class="border-faint flex items-stretch border-b {chosen ? 'bg-chosen' : ''} {overRow === row.key
        ? 'border-t-ink border-t-2'
        : ''}"
      style:height="{board.rowHeight}px"
      onclick={(event) => board.select(row.key, event)}
      ondragover={(event) => {
        if (dragged && row.voice) {
          event.preventDefault();
          overRow = row.key;
        }
      }}
      ondrop={() => drop(row.key)}
    >
      <Head {row} ondragstart={() => (dragged = row.key)} ondragend={() => (dragged = overRow = undefined)} />
      {#if board.stage === 'bring-in'}
        <Source {row} />
        <Hits {row} />
      {:else if board.stage === 'route'}
        <Output {row} />
      {:else if board.stage === 'levels'}
        <Stations {row} />
      {:else}
        <Stem {row} />
      {/if}
    </div>
  {:else}
    <div class="grid h-40 place-items-center">
      <p class="text-second">
        No row is called “{board.filter}”. <Button kind="text" onclick={() => (board.filter = '')}
          >Show all</Button
        >
      </p>
    </div>
  {/each}
  {#if board.doc.voices.length === 0 && !board.filter}
    <p class="text-second py-12 text-center text-[15px]">
      Drop one-shots, recordings or a MIDI file anywhere; each becomes a lane.
    </p>
  {/if}
  {#if board.stage === 'route'}<Ribbons />{/if}
  {#if board.stage === 'bring-in'}<PlayLine />{/if}
</div>
