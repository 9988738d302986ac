<!-- Rows: lanes, buses, main. The left part is always the same; the stage decides the rest. -->
<script lang="ts">
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Hits from '../stages/bring-in/Hits.svelte';
  import Source from '../stages/bring-in/Source.svelte';
  import PlayLine from '../stages/bring-in/PlayLine.svelte';
  import { STATION_COLUMNS, VALUE_COLUMN } from '../stages/levels/columns';
  import Stations from '../stages/levels/Stations.svelte';
  import Output from '../stages/route/Output.svelte';
  import Ribbons from '../stages/route/Ribbons.svelte';
  import TableCells from '../stages/route/TableCells.svelte';
  import Chain from '../stages/shape/Chain.svelte';
  import Stem from '../stages/track-out/Stem.svelte';
  import FoldHead from './FoldHead.svelte';
  import Head from './Head.svelte';

  const { session, board } = desktop();

  const columns = {
    'bring-in': 'Sound',
    route: 'Goes to',
    levels: '',
    shape: '',
    'track-out': '',
  };

  const returns = $derived(board.doc.strips.filter((s) => s.kind === 'return'));
  const latency = $derived.by(() => {
    void board.doc;
    return new Map(session.desk.latency().map((l) => [l.strip, l.leaves]));
  });

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
    <button
      class="hover:bg-chosen ml-1 rounded-sm px-1 {board.folded ? 'bg-chosen text-ink' : ''}"
      aria-pressed={board.folded}
      title="Lanes under the heads of their families"
      onclick={() => (board.folded = !board.folded)}>families</button
    >
    <span class="ml-auto pr-3 whitespace-nowrap">After fader</span>
  </div>
  {#if board.stage === 'levels'}
    <span class={STATION_COLUMNS.source}>Source</span><span class={STATION_COLUMNS.trimmed}>After trim</span>
    <span class="{STATION_COLUMNS.chain} truncate">After each processor</span>
    <span class={STATION_COLUMNS.out}>After fader</span>
    {#each ['Trim', 'Polarity', 'Pan', 'Width', 'Fader'] as name (name)}
      <span class="{VALUE_COLUMN} text-right">{name}</span>
    {/each}
  {:else if board.stage === 'track-out'}
    <span class="w-[56px] pl-2">In</span><span class="w-[110px]">Tap</span>
    <span class="flex-1">File, as it will be</span><span class="w-[220px]">Last render: peak dBFS, LUFS</span>
  {:else if board.stage === 'shape'}
    <span class="pl-2">Chain, from left to right</span>
  {:else}
    <span class="w-[130px] pl-2">{columns[board.stage]}</span>
    {#if board.stage === 'route'}
      {#if board.routeTable}
        {#each returns as target (target.id)}
          <span class="w-[104px] shrink-0 truncate" title="Sends to {target.name}">to {target.name}</span>
        {/each}
        <span class="flex-1 px-2">Keyed by</span>
        <span class="w-24 pr-2 text-right">Late, samples</span>
      {:else}
        <span class="flex-1 pl-2">Outputs broad, sends thin, keys dotted; an end can be dragged</span>
      {/if}
      <button
        class="hover:bg-chosen mr-3 rounded-sm px-1 whitespace-nowrap underline"
        onclick={() => (board.routeTable = !board.routeTable)}
        >{board.routeTable ? 'As ribbons' : 'As a table'}</button
      >
    {/if}
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
  {#each board.lines as line (line.key)}
    {#if line.fold}
      <div
        role="listitem"
        class="border-faint flex items-stretch border-b"
        style:height="{board.rowHeight}px"
      >
        <FoldHead fold={line.fold} />
      </div>
    {:else}
      {@const row = line.row}
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
        <Head
          {row}
          ondragstart={() => (dragged = row.key)}
          ondragend={() => (dragged = overRow = undefined)}
        />
        {#if board.stage === 'bring-in'}
          <Source {row} />
          <Hits {row} />
        {:else if board.stage === 'route'}
          <Output {row} />
          {#if board.routeTable}<TableCells {row} {latency} />{/if}
        {:else if board.stage === 'levels'}
          <Stations {row} />
        {:else if board.stage === 'shape'}
          <Chain {row} />
        {:else}
          <Stem {row} />
        {/if}
      </div>
    {/if}
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
  {#if board.stage === 'route' && !board.routeTable}<Ribbons />{/if}
  {#if board.stage === 'bring-in'}<PlayLine />{/if}
</div>
