<!-- A ready loop, cut at its hits into voices. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import { range } from '$lib/limits';
  import type { Family, LoopCuts } from '$lib/api/types';
  import { FAMILIES } from '$lib/families';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import { counted } from '$lib/ui/counted';
  import Field from '$lib/ui/Field.svelte';
  import Glyph from '$lib/ui/Glyph.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import Waveform from '$lib/ui/Waveform.svelte';
  import { STEPS } from './hits';

  const { session, board, gauge } = desktop();
  const voice = $derived(board.current?.voice);
  const families = FAMILIES.map((f) => f.value);

  let sensitivity = $state(60);
  let cuts = $state<LoopCuts>();
  let starts = $state<{ at: number; family: Family }[]>([]);
  let problem = $state('');
  let busy = $state(false);
  let bpm = $state(120);
  let bySound = $state(true);
  let width = $state(600);
  let measured: number | undefined;
  const overview = $derived(cuts && new Float32Array(cuts.overview));
  const x = $derived((frame: number) => (frame / (cuts?.frames ?? 1)) * width);

  async function measure(id: number, at: number) {
    [busy, problem] = [true, ''];
    const found = await gauge.ask('Finding its hits', { about: 'cuts', voice: id, sensitivity: at / 100 });
    // What was asked since has an answer of its own.
    if (voice?.id !== id || sensitivity !== at) return;
    busy = false;
    // What was called off for something else leaves what is seen.
    if (!found) {
      if (gauge.problem) [cuts, problem] = [undefined, gauge.problem];
    } else {
      if (measured !== id) bpm = found.tempi[0]?.bpm ?? session.header.tempo_bpm;
      measured = id;
      cuts = found;
      starts = found.pieces.map((p) => ({ at: p.start_frame, family: p.family }));
    }
  }
  const id = $derived(voice && voice.source.kind !== 'empty' ? voice.id : undefined);
  $effect(() => {
    const at = sensitivity;
    if (id === undefined) busy = false;
    else untrack(() => void measure(id, at));
  });

  function at(event: PointerEvent | MouseEvent): number {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return Math.round(((event.clientX - box.left) / box.width) * (cuts?.frames ?? 0));
  }
  /** A click on a cut takes it away, elsewhere it sets one; dragging moves it. */
  let held: { index: number; from: number; moved: boolean } | undefined;
  function down(event: PointerEvent) {
    const frame = at(event);
    const near = (cuts?.frames ?? 0) * (5 / width);
    const index = starts.findIndex((s) => Math.abs(s.at - frame) < near);
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    if (index >= 0) held = { index, from: event.clientX, moved: false };
    else starts = [...starts, { at: frame, family: 'percussion' as Family }].sort((a, b) => a.at - b.at);
  }
  function move(event: PointerEvent) {
    if (!held || (!held.moved && Math.abs(event.clientX - held.from) < 3)) return;
    held.moved = true;
    const low = (starts[held.index - 1]?.at ?? -1) + 1;
    const high = (starts[held.index + 1]?.at ?? cuts?.frames ?? 0) - 1;
    const here = Math.max(low, Math.min(high, at(event)));
    starts = starts.map((s, n) => (n === held?.index ? { ...s, at: here } : s));
  }
  function up() {
    if (held && !held.moved) starts = starts.filter((_, n) => n !== held?.index);
    held = undefined;
  }
  const next = (family: Family) => families[(families.indexOf(family) + 1) % families.length] as Family;

  function cut() {
    const pattern = board.loop[0]?.pattern.id;
    if (!voice || !cuts || pattern === undefined) return;
    const used = bySound ? families.filter((f) => starts.some((s) => s.family === f)) : [voice.family];
    const end = cuts.frames;
    const done = session.apply({
      kind: 'cut_loop',
      cut: {
        voice: voice.id,
        pattern,
        loop_bpm: bpm,
        grid_ticks: board.stepTicks,
        pieces: starts.map((s, n) => ({
          start_frame: s.at,
          end_frame: starts[n + 1]?.at ?? end,
          voice: bySound ? used.indexOf(s.family) : 0,
        })),
        voices: used.map((family) => ({
          name: `${voice.name} ${bySound ? family : 'cut'}`,
          family,
        })),
      },
    });
    if (done) board.show('bring-in', 'pattern');
  }
</script>

{#if id === undefined || !voice}
  <p class="text-second">Choose a lane with a loop: a recording, or a long one-shot.</p>
{:else}
  <div class="grid h-full min-h-0 grid-cols-[210px_minmax(0,1fr)_250px] gap-5">
    <div class="grid content-start gap-1">
      <h2 class="truncate font-semibold">{voice.name}</h2>
      <Field
        name="Sensitivity"
        label="Sensitivity to hits"
        value={sensitivity}
        min={0}
        max={100}
        unit="%"
        digits={0}
        reset={60}
        oncommit={(s) => (sensitivity = s)}
      />
      <Picker
        label="Write on"
        named
        value={board.stepTicks}
        options={STEPS}
        onpick={(t) => (board.stepTicks = t)}
      />
      <Picker
        label="Pieces to"
        named
        value={bySound ? 1 : 0}
        options={[
          { value: 1, text: 'by their sound' },
          { value: 0, text: 'one voice' },
        ]}
        onpick={(n) => (bySound = n === 1)}
      />
      <Button kind="first" class="mt-1" disabled={busy || starts.length === 0} onclick={cut}
        >Cut into {counted(starts.length, 'hit')}</Button
      >
    </div>
    <div class="flex min-h-0 min-w-0 flex-col">
      {#if cuts}
        <!-- svelte-ignore a11y_no_static_element_interactions -->
        <div
          bind:clientWidth={width}
          class="bg-panel border-line relative min-h-[80px] flex-1 cursor-crosshair touch-none overflow-hidden rounded-sm border"
          data-testid="loop"
          onpointerdown={down}
          onpointermove={move}
          onpointerup={up}
          title="Click sets a cut or takes it away, dragging moves it"
        >
          <Waveform peaks={overview} color="var(--{voice.family})" {width} height={90} />
          {#each starts as start, n (n)}
            <div
              class="bg-ink pointer-events-none absolute inset-y-0 w-px"
              data-cut
              style:left="{x(start.at)}px"
            ></div>
          {/each}
        </div>
        {#if bySound}
          <div class="relative mt-1 h-6" aria-label="Families of the pieces">
            {#each starts as start, n (n)}
              <button
                class="absolute -ml-px"
                style:left="{x(start.at)}px"
                aria-label="Piece {n + 1} goes to {start.family}"
                title="Piece {n + 1}: {start.family}; click for the next family"
                onclick={() =>
                  (starts = starts.map((s, m) => (m === n ? { ...s, family: next(s.family) } : s)))}
                ><Glyph kind={start.family} /></button
              >
            {/each}
          </div>
        {/if}
      {:else if busy}
        <p class="text-second" role="status">Listening for hits …</p>
      {/if}
      {#if problem}<p class="text-wrong" role="alert">{problem}</p>
      {:else if cuts && starts.length === 0}<p class="text-look">
          No hit was found. Raise the sensitivity, or click where one begins.
        </p>{/if}
    </div>
    <div class="min-h-0 overflow-auto">
      <Field
        name="Tempo of the loop"
        label="Tempo of the loop"
        value={bpm}
        {...range('tempo_bpm')}
        unit="bpm"
        behind=""
        digits={2}
        reset={cuts?.tempi[0]?.bpm ?? 120}
        oncommit={(t) => (bpm = t)}
      />
      <ul class="mt-1">
        {#each cuts?.tempi ?? [] as tempo (tempo.bars)}
          <li class="flex items-center gap-2 {Math.abs(tempo.bpm - bpm) < 0.005 ? 'bg-chosen' : ''}">
            <button class="figures flex-1 px-1 text-left" onclick={() => (bpm = tempo.bpm)}
              >{tempo.bpm.toFixed(2)} bpm</button
            >
            <span class="text-second">{counted(tempo.bars, 'bar')}</span>
            <span class="figures text-second" title="How well the hits lie on sixteenths"
              >{(tempo.fit * 100).toFixed(0)} %</span
            >
          </li>
        {/each}
      </ul>
      {#if Math.abs(bpm - session.header.tempo_bpm) > 0.005}
        <button
          class="mt-1 underline"
          onclick={() =>
            session.apply({
              kind: 'set_header',
              header: { ...session.header, tempo_bpm: Math.round(bpm * 1000) / 1000 },
            })}>Give the session this tempo</button
        >
      {:else}
        <p class="text-second mt-1">The session runs at this tempo.</p>
      {/if}
    </div>
  </div>
{/if}
