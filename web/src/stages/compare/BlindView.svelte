<!-- A round without names: nothing of a side is in sight but its number. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import GaugeBar from '$stages/ui/GaugeBar.svelte';
  import { percent } from './words';

  const { blind, sides, player } = desktop();
  const round = $derived(blind.round);
  const told = $derived(round?.chosen !== undefined);
  const places = $derived(round?.order.map((_, at) => at) ?? []);
  const names = $derived(round?.kind === 'recognition' ? ['A', 'B'] : ['1', '2', '3']);
  const big =
    'grid h-20 w-20 place-items-center rounded-md border text-[26px] font-semibold disabled:opacity-50';
  const plain = 'border-ink hover:bg-chosen rounded-md border px-3 py-[5px]';
  const answers = `${plain} disabled:opacity-50`;
  const tally = $derived(
    sides.all.map((side) => ({ name: side.name, count: blind.preferred[side.key] ?? 0 })),
  );
</script>

<!-- What was pressed to begin is gone; from here Tab goes on. -->
<section
  class="grid h-full place-content-center gap-6 overflow-auto p-8 text-center outline-none"
  tabindex="-1"
  aria-label="Blind"
  {@attach (section) => section.focus()}
>
  {#if !round}
    <p>All sides are measured first, so that none is told by how loud it is.</p>
    <div class="mx-auto"><GaugeBar /></div>
    <div><button class={plain} onclick={() => blind.end()}>Leave it</button></div>
  {:else}
    <h2 class="text-[15px] font-semibold">
      {round.kind === 'preference' ? 'Which do you like better?' : 'Is X the same as A or as B?'}
      <span class="text-second figures ml-2">round {round.number + 1}</span>
    </h2>
    <div class="flex justify-center gap-5" role="group" aria-label="What is heard">
      {#each places as place (place)}
        <div class="grid justify-items-center gap-2">
          <button
            class="{big} {round.heard === place
              ? 'bg-ink text-panel border-ink'
              : 'border-line hover:bg-chosen'}"
            aria-pressed={round.heard === place}
            aria-label="Hear {names[place]}"
            title="Key {names[place]}"
            onclick={() => blind.hear(place)}>{names[place]}</button
          >
          {#if told && round.kind === 'preference'}
            <span class={round.chosen === place ? 'font-semibold' : 'text-second'} data-testid="told"
              >{blind.nameAt(place)}</span
            >
          {:else if round.kind === 'preference'}
            <button class={answers} disabled={!player.playing} onclick={() => blind.choose(place)}
              >Choose {names[place]}</button
            >
          {:else if !told}
            <button class={answers} disabled={!player.playing} onclick={() => blind.choose(place)}
              >X is {names[place]}</button
            >
          {/if}
        </div>
      {/each}
      {#if round.kind === 'recognition'}
        <button
          class="{big} {round.heard === 'x' ? 'bg-ink text-panel border-ink' : 'border-line hover:bg-chosen'}"
          aria-pressed={round.heard === 'x'}
          aria-label="Hear X"
          title="Key X"
          onclick={() => blind.hear('x')}>X</button
        >
      {/if}
    </div>
    <div role="status" class="grid gap-1">
      {#if !told && !player.playing}<p class="text-look">
          Play it to answer: only what is heard counts.
        </p>{/if}
      {#if told && round.kind === 'recognition'}
        <p class={round.chosen === round.unknown ? 'text-good' : 'text-wrong'} data-testid="told">
          {round.chosen === round.unknown ? 'Right' : 'Wrong'}: X was {names[round.unknown]}.
        </p>
      {/if}
      {#if blind.rounds > 0 && round.kind === 'recognition'}
        <p data-testid="tally">
          {blind.right} of {blind.rounds} right. Without hearing a difference, {percent(blind.chance)} would be
          right at least as often.
        </p>
      {:else if told}
        <p data-testid="tally">{tally.map((t) => `${t.name}: ${t.count}`).join(' · ')}</p>
      {/if}
    </div>
    <div class="flex justify-center gap-3">
      {#if told}<button class="{plain} bg-ink text-panel" onclick={() => blind.again()}>Next round</button
        >{/if}
      <button class={plain} onclick={() => blind.end()}>End it</button>
    </div>
    <p class="text-second text-[12px]">
      Meters, offsets, curves and differences are out of sight until it ends.
    </p>
  {/if}
</section>
