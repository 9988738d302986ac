<!-- Hits of chosen voices in some bars of a pattern, by rule or by dice. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import type { BarRange, HitsChange, Pattern } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { ended } from '$lib/state/ended';
  import Button from '$lib/ui/Button.svelte';
  import Field from '$lib/ui/Field.svelte';

  let { pattern, ids, range }: { pattern: Pattern; ids: number[]; range: BarRange } = $props();
  const { session, board } = desktop();
  const beat = $derived(board.time.beat_ticks);

  function change(what: HitsChange) {
    session.apply({ kind: 'change_hits', pattern: pattern.id, voices: ids, range, change: what });
  }
  /** Whether hits by rule replace what is there. */
  let instead = $state(false);
  const every = (every_ticks: number, offset_ticks: number, velocity: number) => () =>
    change({ kind: 'every', every_ticks, offset_ticks, velocity, instead });

  // Random hits: rolled and heard, then kept or put back.
  /** In %; ghost notes begin sparse. */
  const DENSITY = { fill: 45, ghosts: 12 };
  let densities = $state({ ...DENSITY });
  let seed = $state(1);
  let rolled = $state<'fill' | 'ghosts'>();
  const tried = $derived(session.trial !== undefined);
  const roll = (): HitsChange => {
    const dice = { step_ticks: board.stepTicks, density_percent: densities[rolled ?? 'fill'], seed };
    return rolled === 'ghosts'
      ? { kind: 'ghosts', velocity: 28, ...dice }
      : { kind: 'fill', velocity_from: 60, velocity_to: 112, ...dice };
  };
  const NAMES = { fill: 'Random fill', ghosts: 'Ghost notes' };
  function show() {
    if (!rolled) return;
    const edit = { kind: 'change_hits', pattern: pattern.id, voices: ids, range, change: roll() } as const;
    session.startTrial(NAMES[rolled], edit);
  }
  /** The first of those that were rolled one after the other. */
  let first = $state(1);
  function start(what: 'fill' | 'ghosts') {
    if (tried && rolled === what) seed += 1;
    else first = seed;
    rolled = what;
    show();
  }
  function before() {
    seed -= 1;
    show();
  }
  function keep() {
    session.keepTrial();
    seed += 1;
  }
  const asked = (what: 'fill' | 'ghosts') => tried && rolled === what;
  // A trial ends with what it is about: other lanes, other bars, another stage.
  const about = $derived(`${pattern.id} ${ids.join()} ${range.from} ${range.bars}`);
  $effect(() => {
    void about;
    return ended(() => session.dropTrial());
  });
</script>

<div class="grid content-start gap-2">
  <div class="flex flex-wrap gap-2">
    <Button onclick={every(beat, 0, 100)}>Every beat</Button>
    <Button onclick={every(beat, beat / 2, 100)}>Every off-beat</Button>
    <Button onclick={every(board.stepTicks, 0, 90)}>Every step</Button>
    <label class="flex items-center gap-1">
      <CheckMark bind:checked={instead} />
      instead of what is there
    </label>
    <Button onclick={() => change({ kind: 'clear' })}>Clear</Button>
    <Button
      disabled={range.from + range.bars >= pattern.bars}
      onclick={() => change({ kind: 'copy_to', bar: range.from + range.bars })}>Copy to the next bars</Button
    >
    <Button onclick={() => change({ kind: 'straighten' })}>Straighten</Button>
  </div>
  <div class="flex flex-wrap items-center gap-2">
    <Button onclick={() => start('fill')}>{asked('fill') ? 'Roll again' : 'Random fill'}</Button>
    <Button onclick={() => start('ghosts')}>{asked('ghosts') ? 'Roll again' : 'Ghost notes'}</Button>
    <div class="w-32">
      <Field
        name="Density"
        label="Density of random hits"
        value={densities[rolled ?? 'fill']}
        min={0}
        max={100}
        unit="%"
        digits={0}
        reset={DENSITY[rolled ?? 'fill']}
        oncommit={(x) => {
          densities[rolled ?? 'fill'] = x;
          if (tried) show();
        }}
      />
    </div>
    {#if tried}
      <Button disabled={seed <= first} onclick={before}>The one before</Button>
      <Button kind="first" onclick={keep}>Keep</Button>
      <Button kind="text" onclick={() => session.dropTrial()}>Put back</Button>
      <span class="figures text-second" aria-label="Seed">{seed}</span>
      <span class="text-look" title="Heard here alone, and in no stem, until it is kept"
        >not kept: in this tab only</span
      >
    {/if}
  </div>
</div>
