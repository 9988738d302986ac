<!-- Hits of the chosen lanes in the looped bars, by rule and one by one. -->
<script lang="ts">
  import { range as within } from '$lib/limits';
  import type { Hit, HitsChange, Humanise } from '$lib/api/types';
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Field from '$lib/ui/Field.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { changeHit, hitAt, STEPS } from './hits';

  const { session, board } = desktop();
  const doc = $derived(session.doc);
  const pattern = $derived(board.loop[0]?.pattern);
  const { bar_ticks: bar, beat_ticks: beat } = $derived(board.time);
  const range = $derived.by(() => {
    const first = board.loop[0];
    if (!first) return { from: 0, bars: 0 };
    const same = board.loop.filter((b) => b.pattern.id === first.pattern.id).length;
    return { from: first.patternBar, bars: Math.min(same, first.pattern.bars - first.patternBar) };
  });
  const voices = $derived(
    board.chosen.flatMap((row) =>
      row.voice && row.voice.source.kind !== 'recording' && row.voice.follows === null ? [row.voice] : [],
    ),
  );
  const ids = $derived(voices.map((v) => v.id));
  const part = $derived(doc.parts.find((p) => p.pattern === pattern?.id && p.voice === ids[0]));

  function change(what: HitsChange, how: 'apply' | 'try' = 'apply') {
    if (pattern && ids.length > 0)
      session[how]({ kind: 'change_hits', pattern: pattern.id, voices: ids, range, change: what });
  }

  // Random hits: rolled and heard, then kept or put back.
  let density = $state(45);
  let seed = $state(1);
  let rolled = $state<'fill' | 'ghosts'>();
  const roll = (): HitsChange =>
    rolled === 'ghosts'
      ? { kind: 'ghosts', step_ticks: board.stepTicks, density_percent: density, velocity: 28, seed }
      : {
          kind: 'fill',
          step_ticks: board.stepTicks,
          density_percent: density,
          velocity_from: 60,
          velocity_to: 112,
          seed,
        };
  function start(what: 'fill' | 'ghosts') {
    if (rolled) seed += 1;
    rolled = what;
    change(roll(), 'try');
  }
  function keep() {
    const wish = roll();
    rolled = undefined;
    change(wish);
    seed += 1;
  }
  function back() {
    rolled = undefined;
    session.cancelLive();
  }
  $effect(() => back);

  const humanise = $derived(part?.humanise);
  function vary(to: Partial<Humanise> | null, how: 'apply' | 'try' = 'apply') {
    if (!pattern || ids.length === 0) return;
    const by = to && { ...(humanise ?? { seed: 1, time_ms: 6, level_db: 1.5, tune_ct: 0 }), ...to };
    session[how]({ kind: 'humanise', pattern: pattern.id, voices: ids, by });
  }
  const varied = (to: (x: number) => Partial<Humanise>) => ({
    onlive: (x: number) => vary(to(x), 'try'),
    oncommit: (x: number) => vary(to(x)),
    oncancel: () => session.cancelLive(),
  });

  const spot = $derived(board.cursor && ids.includes(board.cursor.voice) ? board.cursor : undefined);
  const list = $derived(
    doc.parts.find((p) => p.pattern === spot?.pattern && p.voice === spot?.voice)?.hits ?? [],
  );
  const hit = $derived(spot && hitAt(list, spot.at, board.stepTicks));
  function setHit(to: Partial<Hit>, how: 'apply' | 'try' = 'apply') {
    if (!spot) return;
    const hits = changeHit(list, spot.at, board.stepTicks, to);
    session[how]({ kind: 'set_hits', pattern: spot.pattern, voice: spot.voice, hits });
  }
  const moved = (to: (x: number) => Partial<Hit>) => ({
    onlive: (x: number) => setHit(to(Math.round(x)), 'try'),
    oncommit: (x: number) => setHit(to(Math.round(x))),
    oncancel: () => session.cancelLive(),
  });
  const bars = $derived(
    range.bars === 1 ? `bar ${range.from + 1}` : `bars ${range.from + 1} to ${range.from + range.bars}`,
  );
</script>

{#if !pattern || ids.length === 0}
  <p class="text-second">Choose a lane with hits of its own. Several lanes are changed together.</p>
{:else}
  <div class="grid h-full grid-cols-[190px_minmax(0,1fr)_136px_172px_164px] gap-5 overflow-auto">
    <div class="grid content-start gap-1">
      <h2 class="truncate font-semibold">{voices.map((v) => v.name).join(', ')}</h2>
      <p class="text-second">Pattern {pattern.name}, {bars}</p>
      <Picker
        label="Step"
        named
        value={board.stepTicks}
        options={STEPS}
        onpick={(ticks) => (board.stepTicks = ticks)}
      />
      <Button
        kind="text"
        class="text-left"
        onclick={() => session.apply({ kind: 'double_pattern', pattern: pattern.id })}
        >Double the pattern</Button
      >
    </div>
    <div class="grid content-start gap-2">
      <div class="flex flex-wrap gap-2">
        <Button onclick={() => change({ kind: 'every', every_ticks: beat, offset_ticks: 0, velocity: 100 })}
          >Every beat</Button
        >
        <Button
          onclick={() => change({ kind: 'every', every_ticks: beat, offset_ticks: beat / 2, velocity: 100 })}
          >Every off-beat</Button
        >
        <Button
          onclick={() =>
            change({ kind: 'every', every_ticks: board.stepTicks, offset_ticks: 0, velocity: 90 })}
          >Every step</Button
        >
        <Button onclick={() => change({ kind: 'clear' })}>Clear</Button>
        <Button
          disabled={range.from + range.bars >= pattern.bars}
          onclick={() => change({ kind: 'copy_to', bar: range.from + range.bars })}
          >Copy to the next bars</Button
        >
        <Button onclick={() => change({ kind: 'straighten' })}>Straighten</Button>
      </div>
      <div class="flex flex-wrap items-center gap-2">
        <Button onclick={() => start('fill')}>{rolled === 'fill' ? 'Roll again' : 'Random fill'}</Button>
        <Button onclick={() => start('ghosts')}>{rolled === 'ghosts' ? 'Roll again' : 'Ghost notes'}</Button>
        <div class="w-32">
          <Field
            name="Density"
            label="Density of random hits"
            value={density}
            min={0}
            max={100}
            unit="%"
            digits={0}
            reset={45}
            oncommit={(x) => {
              density = x;
              if (rolled) change(roll(), 'try');
            }}
          />
        </div>
        {#if rolled}
          <Button kind="first" onclick={keep}>Keep</Button>
          <Button kind="text" onclick={back}>Put back</Button>
          <span class="figures text-second" aria-label="Seed">{seed}</span>
        {/if}
      </div>
    </div>
    <div class="grid content-start">
      <h3 class="text-second">Loop of its own</h3>
      {#if part?.loop_ticks !== undefined}
        <Field
          name="Steps"
          label="Length of the loop in steps"
          value={part.loop_ticks / board.stepTicks}
          min={1}
          max={board.time.most_bars}
          unit="steps"
          behind=""
          digits={0}
          reset={16}
          oncommit={(x) =>
            session.apply({
              kind: 'set_loop',
              pattern: pattern.id,
              voices: ids,
              ticks: Math.round(x) * board.stepTicks,
            })}
        />
        <button
          class="text-left underline"
          onclick={() => session.apply({ kind: 'set_loop', pattern: pattern.id, voices: ids, ticks: null })}
          >As long as the pattern</button
        >
      {:else}
        <button
          class="text-left underline disabled:no-underline"
          disabled={!part}
          onclick={() => session.apply({ kind: 'set_loop', pattern: pattern.id, voices: ids, ticks: bar })}
          >One bar, to be changed</button
        >
      {/if}
    </div>
    <div class="grid content-start">
      <h3 class="text-second">Humanise</h3>
      {#if humanise}
        <Field
          name="Time, ±"
          label="Humanised time"
          value={humanise.time_ms}
          {...within('humanise_ms')}
          unit="ms"
          reset={6}
          {...varied((time_ms) => ({ time_ms }))}
        />
        <Field
          name="Level, ±"
          label="Humanised level"
          value={humanise.level_db}
          {...within('humanise_db')}
          unit="dB"
          reset={1.5}
          {...varied((level_db) => ({ level_db }))}
        />
        <Field
          name="Tune, ±"
          label="Humanised tuning"
          value={humanise.tune_ct}
          {...within('humanise_ct')}
          unit="ct"
          digits={0}
          {...varied((tune_ct) => ({ tune_ct }))}
        />
        <p class="flex gap-3">
          <button class="underline" onclick={() => vary({ seed: humanise.seed + 1 })}>Roll again</button>
          <button class="underline" onclick={() => vary(null)}>Straight again</button>
        </p>
      {:else}
        <button class="text-left underline disabled:no-underline" disabled={!part} onclick={() => vary({})}
          >Vary time and level a little</button
        >
      {/if}
    </div>
    <div class="grid content-start">
      {#if hit && spot}
        <h3 class="text-second">
          Hit at {Math.floor(hit.at_ticks / bar) + 1}.{Math.floor((hit.at_ticks % bar) / beat) + 1}
        </h3>
        <Field
          name="Velocity"
          label="Velocity of the hit"
          value={hit.velocity}
          {...within('velocity')}
          unit=""
          digits={0}
          reset={100}
          {...moved((velocity) => ({ velocity }))}
        />
        <Field
          name="Later by"
          label="Shift of the hit"
          value={hit.shift_ticks ?? 0}
          {...within('shift_ticks')}
          unit="ticks"
          behind="tk"
          digits={0}
          {...moved((shift_ticks) => ({ shift_ticks }))}
        />
        <Field
          name="Repeats"
          label="Repeats of the hit"
          value={hit.repeats ?? 1}
          {...within('repeats')}
          unit=""
          digits={0}
          reset={1}
          {...moved((repeats) => ({ repeats }))}
        />
        <Field
          name="Slope"
          label="Velocity change of each repeat"
          value={hit.slope ?? 0}
          {...within('slope')}
          unit=""
          digits={0}
          {...moved((slope) => ({ slope }))}
        />
        <Field
          name="Tune"
          label="Tuning of the hit"
          value={hit.tune_st}
          {...within('hit_tune_st')}
          unit="st"
          digits={0}
          {...moved((tune_st) => ({ tune_st }))}
        />
      {:else}
        <p class="text-second">Click a hit to change it here. Alt and drag moves it off the grid.</p>
      {/if}
    </div>
  </div>
{/if}
