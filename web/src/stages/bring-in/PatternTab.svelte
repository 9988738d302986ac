<!-- Hits of the chosen lanes in the looped bars, by rule and one by one. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { barsAt } from '$lib/ui/counted';
  import HitFields from './HitFields.svelte';
  import HitsByRule from './HitsByRule.svelte';
  import HumaniseFields from './HumaniseFields.svelte';
  import OwnLoop from './OwnLoop.svelte';
  import { STEPS } from './hits';

  const { session, board } = desktop();
  const pattern = $derived(board.loop[0]?.pattern);
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
  const part = $derived(session.doc.parts.find((p) => p.pattern === pattern?.id && p.voice === ids[0]));
  const bars = $derived(barsAt(range.from, range.bars));
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
    <HitsByRule {pattern} {ids} {range} />
    <OwnLoop pattern={pattern.id} {ids} {part} />
    <HumaniseFields pattern={pattern.id} {ids} {part} />
    <HitFields {ids} />
  </div>
{/if}
