<!-- The hits of one lane over the loop: a click sets one or chooses the one that is there, Delete removes it, dragging
     along sets more, dragging up and down moves velocity. -->
<script lang="ts">
  import type { Hit } from '$lib/api/types';
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { Steady } from '$lib/state/steady.svelte';
  import { isTried } from '$lib/state/trial';
  import { changeHit, clearHit, heldVelocity, hitAt, setHit } from './hits';

  let { row }: { row: Row } = $props();
  const { session, board } = desktop();

  const { bar_ticks: bar, beat_ticks: beat } = $derived(board.time);
  const ticks = $derived(bar * board.loop.length);
  const grid = $derived(board.stepTicks);
  const steps = $derived(Math.round(ticks / grid));
  const voice = $derived(row.voice);
  const recording = $derived(voice?.source.kind === 'recording');
  /** Whose hits are shown and changed: a voice that follows another has none of its own. */
  const leader = $derived(voice?.follows ?? voice?.id ?? 0);
  /** What the leader plays, the same list as long as none of it changes. */
  const parts = new Steady(() => session.doc.parts.filter((p) => p.voice === leader));
  const fixed = $derived(recording || leader !== voice?.id);
  const lane = $derived.by(() => {
    // The desk holds the same document; what the lane's grid is made of is named here.
    void [parts.current, board.time];
    const from = board.loopStart;
    return voice && session.desk.laneGrid(voice.id, from, from + board.loop.length);
  });
  const hits = $derived(lane?.hits ?? []);
  const pitched = $derived(
    voice !== undefined && voice.source.kind === 'one_shot' && voice.source.hold.kind === 'gate',
  );
  const span = $derived.by(() => {
    const tunes = hits.map((h) => h.hit.tune_st);
    return { low: Math.min(...tunes), range: Math.max(1, Math.max(...tunes) - Math.min(...tunes)) };
  });

  let area = $state<HTMLDivElement>();
  let cursor = $state(0);
  const shifted = (ticks: number) => Math.max(-480, Math.min(480, Math.round(ticks)));
  let drag:
    | {
        step: number;
        x: number;
        shift: number | undefined;
        y: number;
        existed: boolean;
        velocity: number;
        moved: boolean;
        hits: Hit[];
      }
    | undefined;

  const stepAt = (event: PointerEvent) => {
    const box = (area as HTMLDivElement).getBoundingClientRect();
    return Math.max(0, Math.min(steps - 1, Math.floor(((event.clientX - box.left) / box.width) * steps)));
  };
  const where = (step: number) => {
    const tick = step * grid;
    const place = lane?.bars[Math.floor(tick / bar)];
    // Within a loop of its own, a step further on is the same step again.
    return place && { pattern: place.pattern, at: (place.from_ticks + (tick % bar)) % place.period_ticks };
  };
  const hitsOf = (step: number): Hit[] => {
    const pattern = where(step)?.pattern;
    return session.doc.parts.find((p) => p.pattern === pattern && p.voice === leader)?.hits ?? [];
  };
  function edit(step: number, next: Hit[], how: 'apply' | 'try') {
    const spot = where(step);
    if (!spot || !voice) return;
    session[how]({ kind: 'set_hits', pattern: spot.pattern, voice: voice.id, hits: next });
  }
  function point(step: number) {
    cursor = step;
    const spot = where(step);
    board.cursor = spot && voice ? { voice: leader, pattern: spot.pattern, at: spot.at } : undefined;
  }

  function down(event: PointerEvent) {
    if (event.button !== 0 || !voice || fixed) return;
    const step = stepAt(event);
    const spot = where(step);
    if (!spot) return;
    area?.setPointerCapture(event.pointerId);
    board.select(row.key);
    point(step);
    const list = hitsOf(step);
    const hit = hitAt(list, spot.at, grid);
    drag = {
      step,
      x: event.clientX,
      // With Alt an existing hit is moved off the grid instead.
      shift: event.altKey && hit ? (hit.shift_ticks ?? 0) : undefined,
      y: event.clientY,
      existed: hit !== undefined,
      velocity: hit?.velocity ?? 100,
      moved: false,
      hits: list,
    };
    if (!hit) edit(step, (drag.hits = setHit(list, spot.at, grid, 100)), 'try');
  }
  function move(event: PointerEvent) {
    const spot = drag && where(drag.step);
    if (!drag || !spot) return;
    if (drag.shift !== undefined) {
      const box = (area as HTMLDivElement).getBoundingClientRect();
      const by = ((event.clientX - drag.x) / box.width) * ticks;
      drag.moved = true;
      drag.hits = changeHit(drag.hits, spot.at, grid, { shift_ticks: shifted(drag.shift + by) });
      edit(drag.step, drag.hits, 'try');
      return;
    }
    const step = stepAt(event);
    const up = drag.y - event.clientY;
    if (step !== drag.step && Math.abs(up) < 14) {
      // Along the lane: the same hit on every step that is passed, within the same pattern.
      const next = where(step);
      if (!next || next.pattern !== spot.pattern) return;
      drag.moved = true;
      if (!hitAt(drag.hits, next.at, grid)) drag.hits = setHit(drag.hits, next.at, grid, drag.velocity);
      edit(step, drag.hits, 'try');
    } else if (Math.abs(up) > 2 || drag.moved) {
      drag.moved = true;
      drag.hits = changeHit(drag.hits, spot.at, grid, { velocity: heldVelocity(drag.velocity + up * 1.5) });
      edit(drag.step, drag.hits, 'try');
    }
  }
  function up() {
    const spot = drag && where(drag.step);
    if (!drag || !spot) return;
    const { existed, moved, hits: made, step } = drag;
    drag = undefined;
    // A press on a hit chooses it.
    if (!existed || moved) edit(step, made, 'apply');
  }

  function key(event: KeyboardEvent) {
    const spot = where(cursor);
    if (!spot || !voice || fixed) return;
    const list = hitsOf(cursor);
    const hit = hitAt(list, spot.at, grid);
    if (event.altKey && hit && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      const by = event.key === 'ArrowLeft' ? -10 : 10;
      edit(
        cursor,
        changeHit(list, spot.at, grid, { shift_ticks: shifted((hit.shift_ticks ?? 0) + by) }),
        'apply',
      );
    } else if (event.key === 'ArrowLeft') point(Math.max(0, cursor - 1));
    else if (event.key === 'ArrowRight') point(Math.min(steps - 1, cursor + 1));
    else if (event.key === 'Enter' && !hit) edit(cursor, setHit(list, spot.at, grid, 100), 'apply');
    else if (hit && (event.key === 'Delete' || event.key === 'Backspace'))
      edit(cursor, clearHit(list, spot.at, grid), 'apply');
    else if (hit && event.key === 'ArrowUp')
      edit(cursor, changeHit(list, spot.at, grid, { velocity: heldVelocity(hit.velocity + 8) }), 'apply');
    else if (hit && event.key === 'ArrowDown')
      edit(cursor, changeHit(list, spot.at, grid, { velocity: heldVelocity(hit.velocity - 8) }), 'apply');
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  const here = $derived.by(() => {
    const spot = where(cursor);
    return spot && voice ? hitAt(hitsOf(cursor), spot.at, grid) : undefined;
  });
  const x = (at: number) => (at / ticks) * 100;
  /** Whether a hit is only tried out. */
  const isTrial = (hit: Hit, at: number) => {
    const place = lane?.bars[Math.floor(at / bar)];
    return place !== undefined && isTried(session.trial, place.pattern, leader, hit.at_ticks);
  };
  const TRIAL = {
    fill: 'none',
    stroke: 'var(--look)',
    'stroke-width': 1.5,
    'stroke-dasharray': '2 1.5',
    'vector-effect': 'non-scaling-stroke',
  } as const;
</script>

{#if voice}
  <div
    bind:this={area}
    role="grid"
    tabindex="0"
    aria-label="Hits of {row.name}: step {cursor + 1} of {steps}, {here
      ? `velocity ${here.velocity}`
      : 'empty'}"
    aria-readonly={fixed}
    class="group relative min-w-0 flex-1 touch-none {fixed ? '' : 'cursor-crosshair'}"
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={() => {
      drag = undefined;
      session.cancelLive();
    }}
    onkeydown={key}
    onclick={(event) => event.stopPropagation()}
  >
    <svg
      class="absolute inset-0 h-full w-full"
      preserveAspectRatio="none"
      viewBox="0 0 100 100"
      aria-hidden="true"
    >
      {#each Array.from({ length: Math.ceil(ticks / beat) + 1 }, (_, n) => n) as n (n)}
        <line
          x1={x(n * beat)}
          x2={x(n * beat)}
          y1="0"
          y2="100"
          stroke={(n * beat) % bar === 0 ? 'var(--third)' : 'var(--line)'}
          vector-effect="non-scaling-stroke"
        />
      {/each}
      <g fill="var(--{row.kind})" opacity={row.strip.mute ? 0.35 : 1}>
        {#if recording}
          <rect x="0" y="38" width="100" height="24" />
        {/if}
        {#each hits as { hit, at_ticks: at, written }, n (n)}
          {#if pitched}
            <rect
              data-hit
              x={x(at)}
              y={74 - ((hit.tune_st - span.low) / span.range) * 58}
              width={Math.max(0.4, x(Math.min(hit.length_ticks, ticks - at)))}
              height="11"
              data-trial={isTrial(hit, at) || undefined}
              {...isTrial(hit, at) ? TRIAL : {}}
            />
          {:else}
            {@const height = 14 + (hit.velocity / 127) * 66}
            {#each Array.from({ length: hit.repeats ?? 1 }, (_, r) => r) as repeat (repeat)}
              <rect
                data-hit
                x={x(at + (repeat * hit.length_ticks) / (hit.repeats ?? 1))}
                y={90 - height}
                width={Math.max(0.35, x(Math.min(110, (hit.length_ticks / (hit.repeats ?? 1)) * 0.6)))}
                {height}
                opacity={written ? 1 : 0.45}
                data-trial={isTrial(hit, at) || undefined}
                {...isTrial(hit, at) ? TRIAL : {}}
              />
            {/each}
          {/if}
        {/each}
      </g>
    </svg>
    <div
      class="border-ink pointer-events-none absolute inset-y-0 hidden border group-focus-visible:block"
      style:left="{x(cursor * grid)}%"
      style:width="{x(grid)}%"
    ></div>
  </div>
{/if}
