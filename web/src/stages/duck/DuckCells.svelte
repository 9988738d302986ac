<!-- What each key does to a row: how deep over the loop, and now; an empty cell makes a ducker. -->
<script lang="ts">
  import type { Processor } from '$lib/api/types';
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { ADD_COLUMN, KEY_COLUMN, RECOVERY_COLUMN } from './columns';
  import { ducks as isDucker, duckersOf, GONE, keyName, sourceName } from '$lib/state/duckers';
  import { depthSaid, depthText, recovery, worst } from './matrix';

  let { row }: { row: Row } = $props();
  const { session, player, board, ducks } = desktop();
  const keys = $derived(ducks.keys);
  const { reduces } = ducks;
  const nameOf = (id: number) => sourceName(id, (strip) => session.nameOf(strip));
  /** The most that a cell shows, in dB. */
  const DEPTH = 24;
  const part = (db: number) => Math.min(1, db / DEPTH);
  const now = $derived.by(() => {
    void player.meters.tick;
    return (p: Processor) => player.meters.processor(p.id).reduction;
  });
  const said = $derived(
    worst(
      row.strip.chain
        .filter((p) => isDucker(reduces, p))
        .flatMap((p) => {
          const ducker = ducks.of(p.id);
          return ducker ? [recovery(ducker)] : [];
        }),
    ),
  );
  const tones = { good: 'text-good', look: 'text-look', second: 'text-second' };

  function choose(event: Event, p: Processor) {
    event.stopPropagation();
    board.selected = [row.key];
    board.ducker = p.id;
  }
  function add(event: Event, source: number) {
    event.stopPropagation();
    const targets = board.together(row.strip.id).filter((id) => {
      const strip = session.doc.strips.find((s) => s.id === id);
      if (id === source || strip === undefined || strip.kind === 'trigger') return false;
      // Rows that it ducks already keep what they have.
      return duckersOf(strip, source, reduces).length === 0;
    });
    void ducks.add(targets, source);
  }
  /** Draws a ducker out over rows above or below: each that is passed gets it. */
  function draw(event: PointerEvent, p: Processor, source: number) {
    event.stopPropagation();
    const handle = event.currentTarget as HTMLElement;
    handle.setPointerCapture(event.pointerId);
    const at = handle.getBoundingClientRect();
    const strips = [...new Set(board.shown.map((r) => r.strip.id))];
    const here = strips.indexOf(row.strip.id);
    ducks.drawn = { processor: p.id, source, strips: [] };
    const move = (to: PointerEvent) => {
      const under = document.elementFromPoint(at.x, to.clientY)?.closest<HTMLElement>('[data-duck-row]');
      const there = strips.indexOf(Number(under?.dataset['duckRow']));
      if (there < 0) return;
      const [from, upTo] = here < there ? [here + 1, there + 1] : [there, here];
      ducks.drawn = { processor: p.id, source, strips: strips.slice(from, upTo) };
    };
    const over = new AbortController();
    const end = (how: PointerEvent) => {
      over.abort();
      const drawn = ducks.drawn;
      ducks.drawn = undefined;
      if (how.type === 'pointerup' && drawn && drawn.strips.length > 0) ducks.copy(p.id, drawn.strips);
    };
    const { signal } = over;
    handle.addEventListener('pointermove', move, { signal });
    handle.addEventListener('pointerup', end, { signal });
    handle.addEventListener('pointercancel', end, { signal });
  }
  const remove = (p: Processor) =>
    session.apply({ kind: 'remove_processors', strip: row.strip.id, processors: [p.id] });
  /** Arrows go from cell to cell; Delete takes a ducker out. */
  function key(event: KeyboardEvent, p?: Processor) {
    const here = event.currentTarget as HTMLElement;
    const column = here.dataset['column'];
    const cells = (of: Element | null | undefined) => [
      ...(of?.querySelectorAll<HTMLElement>('[data-column]') ?? []),
    ];
    const inRow = cells(here.closest('[role=row]'));
    const rows = [...document.querySelectorAll('[role=row]')];
    const at = rows.indexOf(here.closest('[role=row]') as Element);
    const beyond = (by: 1 | -1) => {
      for (let n = at + by; n >= 0 && n < rows.length; n += by) {
        const cell = cells(rows[n]).find((c) => c.dataset['column'] === column);
        if (cell) return cell;
      }
      return undefined;
    };
    const go: Record<string, () => HTMLElement | undefined> = {
      ArrowLeft: () => inRow[inRow.indexOf(here) - 1],
      ArrowRight: () => inRow[inRow.indexOf(here) + 1],
      ArrowUp: () => beyond(-1),
      ArrowDown: () => beyond(1),
    };
    const to = go[event.key];
    if (to) {
      event.preventDefault();
      event.stopPropagation();
      to()?.focus();
    } else if (p && (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'c') {
      event.preventDefault();
      event.stopPropagation();
      ducks.held = p.id;
      session.tell(
        `Copied: ${keyName(p, (strip) => session.nameOf(strip))} on ${row.name}. Ctrl+V puts it elsewhere.`,
      );
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'v') {
      event.preventDefault();
      event.stopPropagation();
      if (ducks.held !== undefined) ducks.copy(ducks.held, board.together(row.strip.id), Number(column));
    } else if (p && (event.key === 'Delete' || event.key === 'Backspace')) {
      event.preventDefault();
      event.stopPropagation();
      remove(p);
    }
  }
</script>

{#if !row.leads}
  <p class="text-second flex items-center pl-2">with {row.shares.join(', ')}</p>
{:else if row.strip.kind === 'trigger'}
  <p class="text-second flex items-center pl-2">never heard; feeds keys</p>
{:else}
  <div class="flex min-w-0 flex-1 items-stretch" data-duck-row={row.strip.id}>
    {#each keys as id (id)}
      {@const duckers = duckersOf(row.strip, id, reduces)}
      {@const marked = ducks.drawn?.source === id && ducks.drawn.strips.includes(row.strip.id)}
      <div class="{KEY_COLUMN} relative flex items-center gap-px px-1 {marked ? 'bg-chosen' : ''}">
        {#each duckers as processor (processor.id)}
          {@const measured = ducks.of(processor.id)}
          <button
            class="bg-faint relative h-[20px] min-w-0 flex-1 overflow-hidden rounded-sm text-left {board.ducker ===
            processor.id
              ? 'outline-ink outline-2'
              : ''} {processor.on ? '' : 'opacity-40'}"
            data-column={id}
            aria-label="{nameOf(id)} ducks {row.name}: {measured
              ? depthSaid(measured.figures.depth_db, processor.settings)
              : 'not heard yet'}{processor.on ? '' : ', off'}"
            title="{nameOf(id)} ducks {row.name}. Enter shows it below, Delete removes it, Ctrl+C copies it."
            onclick={(event) => choose(event, processor)}
            onkeydown={(event) => key(event, processor)}
          >
            <span
              class="bg-look absolute inset-y-0 right-0 opacity-30"
              style:width="{100 * part(measured?.figures.depth_db ?? 0)}%"
            ></span>
            <!-- Moved without laying anything out. -->
            <span
              class="bg-look absolute inset-0 origin-right"
              style:transform="scaleX({part(now(processor))})"
            ></span>
            <span class="figures relative pl-1.5 text-[11px]! {ducks.fresh ? '' : 'text-second'}"
              >{measured ? depthText(measured.figures.depth_db, processor.settings) : '…'}</span
            >
          </button>
          {#if board.ducker === processor.id}
            <!-- Keys do the same: Ctrl+C here, Ctrl+V elsewhere. -->
            <span
              role="presentation"
              class="bg-ink absolute right-[3px] bottom-px z-10 size-[7px] cursor-ns-resize rounded-[2px]"
              data-testid="draw-out"
              title="Draw over rows: each gets this ducker"
              onpointerdown={(event) => draw(event, processor, id)}
            ></span>
          {/if}
        {:else}
          {#if id !== GONE && id !== row.strip.id}
            <button
              class="text-second hover:bg-chosen hover:text-ink focus-visible:text-ink h-[20px] min-w-0 flex-1 rounded-sm text-left"
              data-column={id}
              aria-label="Duck {row.name} by {nameOf(id)}"
              title="Duck {row.name} by {nameOf(id)}; chosen rows together"
              onclick={(event) => add(event, id)}
              onkeydown={(event) => key(event)}><span class="pl-1.5">+</span></button
            >
          {/if}
        {/each}
      </div>
    {/each}
    <span class={ADD_COLUMN}></span>
    <span
      class="ml-auto flex items-center truncate {RECOVERY_COLUMN} {said && ducks.fresh
        ? tones[said.tone]
        : 'text-second'}">{said?.text ?? ''}</span
    >
  </div>
{/if}
