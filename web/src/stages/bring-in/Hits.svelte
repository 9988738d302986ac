<!-- The hits of one lane over the loop: click sets and clears, dragging along sets more, dragging up and down
     moves velocity. -->
<script lang="ts">
  import type { Hit } from '$lib/api/types';
  import { barTicks, type Row } from '$lib/state/board.svelte';
  import { desktop } from '$lib/state/context';
  import { clearHit, hitAt, placedHits, setHit, STEP_TICKS, withVelocity } from './hits';

  let { row }: { row: Row } = $props();
  const { session, board } = desktop();

  const bar = $derived(barTicks(session.doc));
  const ticks = $derived(bar * board.loop.length);
  const steps = $derived(ticks / STEP_TICKS);
  const voice = $derived(row.voice);
  const recording = $derived(voice?.source.kind === 'recording');
  const hits = $derived(voice ? placedHits(session.doc, board.loop, voice.id) : []);
  const pitched = $derived(
    voice !== undefined && voice.source.kind === 'one_shot' && voice.source.hold.kind === 'gate',
  );
  const span = $derived.by(() => {
    const tunes = hits.map((h) => h.hit.tune_st);
    return { low: Math.min(...tunes), range: Math.max(1, Math.max(...tunes) - Math.min(...tunes)) };
  });

  let area = $state<HTMLDivElement>();
  let cursor = $state(0);
  let drag:
    { step: number; y: number; existed: boolean; velocity: number; moved: boolean; hits: Hit[] } | undefined;

  const stepAt = (event: PointerEvent) => {
    const box = (area as HTMLDivElement).getBoundingClientRect();
    return Math.max(0, Math.min(steps - 1, Math.floor(((event.clientX - box.left) / box.width) * steps)));
  };
  const where = (step: number) => {
    const place = board.loop[Math.floor((step * STEP_TICKS) / bar)];
    return place && { place, at: place.patternBar * bar + ((step * STEP_TICKS) % bar) };
  };
  const hitsOf = (step: number): Hit[] => {
    const pattern = where(step)?.place.pattern.id;
    return session.doc.parts.find((p) => p.pattern === pattern && p.voice === voice?.id)?.hits ?? [];
  };
  function edit(step: number, next: Hit[], how: 'apply' | 'try') {
    const spot = where(step);
    if (!spot || !voice) return;
    session[how]({ kind: 'set_hits', pattern: spot.place.pattern.id, voice: voice.id, hits: next });
  }

  function down(event: PointerEvent) {
    if (event.button !== 0 || !voice || recording) return;
    const step = stepAt(event);
    const spot = where(step);
    if (!spot) return;
    area?.setPointerCapture(event.pointerId);
    board.select(row.key);
    cursor = step;
    const list = hitsOf(step);
    const hit = hitAt(list, spot.at);
    drag = {
      step,
      y: event.clientY,
      existed: hit !== undefined,
      velocity: hit?.velocity ?? 100,
      moved: false,
      hits: list,
    };
    if (!hit) edit(step, (drag.hits = setHit(list, spot.at, 100)), 'try');
  }
  function move(event: PointerEvent) {
    const spot = drag && where(drag.step);
    if (!drag || !spot) return;
    const step = stepAt(event);
    const up = drag.y - event.clientY;
    if (step !== drag.step && Math.abs(up) < 14) {
      // Along the lane: the same hit on every step that is passed, within the same pattern.
      const next = where(step);
      if (!next || next.place.pattern.id !== spot.place.pattern.id) return;
      drag.moved = true;
      if (!hitAt(drag.hits, next.at)) drag.hits = setHit(drag.hits, next.at, drag.velocity);
      edit(step, drag.hits, 'try');
    } else if (Math.abs(up) > 2 || drag.moved) {
      drag.moved = true;
      drag.hits = withVelocity(drag.hits, spot.at, drag.velocity + Math.round(up * 1.5));
      edit(drag.step, drag.hits, 'try');
    }
  }
  function up() {
    const spot = drag && where(drag.step);
    if (!drag || !spot) return;
    const { existed, moved, hits: made, step } = drag;
    drag = undefined;
    edit(step, existed && !moved ? clearHit(made, spot.at) : made, 'apply');
  }

  function key(event: KeyboardEvent) {
    const spot = where(cursor);
    if (!spot || !voice || recording) return;
    const list = hitsOf(cursor);
    const hit = hitAt(list, spot.at);
    if (event.key === 'ArrowLeft') cursor = Math.max(0, cursor - 1);
    else if (event.key === 'ArrowRight') cursor = Math.min(steps - 1, cursor + 1);
    else if (event.key === 'Enter')
      edit(cursor, hit ? clearHit(list, spot.at) : setHit(list, spot.at, 100), 'apply');
    else if (hit && event.key === 'ArrowUp')
      edit(cursor, withVelocity(list, spot.at, hit.velocity + 8), 'apply');
    else if (hit && event.key === 'ArrowDown')
      edit(cursor, withVelocity(list, spot.at, hit.velocity - 8), 'apply');
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  const here = $derived.by(() => {
    const spot = where(cursor);
    return spot && voice ? hitAt(hitsOf(cursor), spot.at) : undefined;
  });
  const x = (at: number) => (at / ticks) * 100;
</script>

{#if voice}
  <div
    bind:this={area}
    role="grid"
    tabindex="0"
    aria-label="Hits of {row.name}: step {cursor + 1} of {steps}, {here
      ? `velocity ${here.velocity}`
      : 'empty'}"
    aria-readonly={recording}
    class="group relative min-w-0 flex-1 touch-none {recording ? '' : 'cursor-crosshair'}"
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
      {#each Array.from({ length: Math.ceil(ticks / 960) + 1 }, (_, n) => n) as beat (beat)}
        <line
          x1={x(beat * 960)}
          x2={x(beat * 960)}
          y1="0"
          y2="100"
          stroke={(beat * 960) % bar === 0 ? 'var(--third)' : 'var(--line)'}
          vector-effect="non-scaling-stroke"
        />
      {/each}
      <g fill="var(--{row.kind})" opacity={row.strip.mute ? 0.35 : 1}>
        {#if recording}
          <rect x="0" y="38" width="100" height="24" />
        {/if}
        {#each hits as { hit, at } (`${at} ${hit.tune_st}`)}
          {#if pitched}
            <rect
              data-hit
              x={x(at)}
              y={74 - ((hit.tune_st - span.low) / span.range) * 58}
              width={Math.max(0.4, x(Math.min(hit.length_ticks, ticks - at)))}
              height="11"
            />
          {:else}
            {@const height = 14 + (hit.velocity / 127) * 66}
            <rect data-hit x={x(at)} y={90 - height} width={Math.max(0.35, x(110))} {height} />
          {/if}
        {/each}
      </g>
    </svg>
    <div
      class="border-ink pointer-events-none absolute inset-y-0 hidden border group-focus-visible:block"
      style:left="{x(cursor * STEP_TICKS)}%"
      style:width="{x(STEP_TICKS)}%"
    ></div>
  </div>
{/if}
