<!-- The head of a family whose lanes are folded: name, mute, solo and level of all of them. -->
<script lang="ts">
  import { FAMILIES } from '$lib/families';
  import type { Line } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { counted } from '$lib/ui/counted';
  import LevelBar from '$lib/ui/LevelBar.svelte';
  import Glyph from '$lib/ui/Glyph.svelte';

  let { fold }: { fold: NonNullable<Line['fold']> } = $props();
  const { session, player, board } = desktop();
  const name = $derived(FAMILIES.find((f) => f.value === fold.family)?.text ?? fold.family);
  const strips = $derived([...new Set(fold.rows.map((r) => r.strip.id))]);
  const all = (what: 'mute' | 'solo') => fold.rows.every((r) => r.strip[what]);
  const flip = (what: 'mute' | 'solo') =>
    session.apply({ kind: 'set_strips', strips, change: { what, to: !all(what) } });
  /** The loudest of its lanes. */
  const loudest = () => {
    const levels = strips.map((s) => player.meters.level(s, 'out'));
    const most = (of: (level: (typeof levels)[number]) => number) => Math.max(0, ...levels.map(of));
    return {
      peak: most((l) => Math.max(...l.peak)),
      rms: most((l) => Math.max(...l.rms)),
      held: 0,
      over: levels.some((l) => l.highest > 1),
    };
  };
</script>

<div class="flex w-(--row-head) shrink-0 items-center gap-2 pl-3">
  <Glyph kind={fold.family} />
  <button
    class="min-w-0 flex-1 truncate text-left"
    aria-expanded={fold.open}
    onclick={() => board.toggleFamily(fold.family)}
    aria-label="{name} {counted(fold.rows.length, 'lane')}"
    ><b>{name}</b> <span class="text-second">{fold.rows.length} {fold.open ? '−' : '+'}</span></button
  >
  {#each ['mute', 'solo'] as const as what (what)}
    <button
      class="border-line h-[19px] w-[19px] shrink-0 rounded-sm border text-[11px] {all(what)
        ? 'bg-ink text-panel border-ink font-semibold'
        : 'hover:bg-chosen'}"
      aria-pressed={all(what)}
      aria-label="{what === 'mute' ? 'Mute' : 'Solo'} all of {name}"
      onclick={() => flip(what)}>{what === 'mute' ? 'M' : 'S'}</button
    >
  {/each}
  <div class="w-[66px] pr-2">
    <LevelBar read={loudest} color="var(--{fold.family})" class="h-3 w-full" />
  </div>
</div>
{#if !fold.open && board.stage !== 'route'}
  <p class="text-second flex min-w-0 items-center truncate pl-2">{fold.rows.map((r) => r.name).join(', ')}</p>
{/if}
