<!-- A way for one sound to make room for another: what they share, what is proposed, heard before it is taken over. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import { desktop } from '$stages/desktop';
  import { ended } from '$lib/state/ended';
  import Picker from '$lib/ui/Picker.svelte';
  import { hz } from '../shape/pictures';
  import { change } from './spectra';

  let { onclose }: { onclose: () => void } = $props();
  const { session, board, ducks, gauge, player } = desktop();
  const begin = untrack(() => session.desk.usualPair(board.current?.strip.id, ducks.focus));
  let key = $state(begin.key);
  let target = $state(begin.target);
  const strips = $derived(
    session.doc.strips
      .filter((s) => s.kind !== 'main')
      .map((s) => ({ value: s.id, text: session.nameOf(s.id), kind: s.kind })),
  );
  const found = $derived(ducks.room?.key === key && ducks.room.target === target ? ducks.room : undefined);
  const room = $derived(found?.room);
  const name = $derived(session.nameOf(target));
  const kinds = $derived(new Map(session.desk.kinds.map((k) => [k.default.kind, k.name])));
  let hearing = $state(false);
  function hear(on: boolean) {
    hearing = on;
    const edit = found && ducks.roomEdit(found);
    if (on) player.hearNow();
    if (on && edit) session.try(edit);
    else session.cancelLive();
  }
  // What is heard before a yes is of this proposal alone.
  $effect(() => {
    void found;
    return ended(() => hearing && hear(false));
  });
  function take(how: () => void | Promise<void>) {
    hear(false);
    void how();
    onclose();
  }
</script>

<section class="grid max-w-[560px] content-start gap-2" aria-label="Make room">
  <div class="grid grid-cols-2 gap-x-4">
    <Picker named label="Room for" value={key} options={strips} onpick={(to) => (key = to)} />
    <Picker
      named
      label="made by"
      value={target}
      options={strips.filter((s) => s.kind !== 'trigger')}
      onpick={(to) => (target = to)}
    />
  </div>
  <p class="flex flex-wrap gap-2">
    <button
      class="border-ink hover:bg-chosen rounded-md border px-2 py-[2px] disabled:opacity-50"
      disabled={key === target || gauge.part !== undefined}
      onclick={() => void ducks.lookForRoom(key, target)}>Look for a way</button
    >
    <button class="underline" onclick={() => take(() => (ducks.room = undefined))}>Close</button>
  </p>
  {#if key === target}
    <p class="text-second">Choose two rows: a sound makes no room for itself.</p>
  {:else if room}
    <p data-testid="room-shared">
      {name} shares <span class="figures">{room.overlap_percent.toFixed(0)} %</span> of its energy with
      {session.nameOf(key)}, while both sound.
    </p>
    {#if room.first}
      <p>
        They take from each other. {room.first.way === 'polarity'
          ? `Turned round, ${name}`
          : `${((1000 * room.first.frames) / session.header.sample_rate).toFixed(1)} ms later, ${name}`} makes both
        together
        <span class="figures">{room.first.gain_db.toFixed(1)} dB</span> louder; try that first.
        <button class="underline" onclick={() => take(() => ducks.takeFirst())}
          >{room.first.way === 'polarity' ? 'Turn it round' : 'Let it wait'}</button
        >
      </p>
    {/if}
    {#if room.proposal}
      {@const { proposal } = room}
      <dl class="grid grid-cols-[auto_1fr] gap-x-4" data-testid="room-proposal">
        <dt class="text-second">Proposed</dt>
        <dd>
          {kinds.get(proposal.settings.kind)}{proposal.band_hz
            ? `, ${hz(proposal.band_hz[0])} to ${hz(proposal.band_hz[1])}`
            : ', the whole sound'},
          <span class="figures">-{proposal.depth_db.toFixed(1)} dB</span>{proposal.recovery_ms === null
            ? ''
            : `, back ${Math.round(proposal.recovery_ms)} ms early`}
        </dd>
        <dt class="text-second">Overlap</dt>
        <dd class="figures">
          {proposal.figures.overlap_percent ? change(proposal.figures.overlap_percent, 0, '%') : '–'}
        </dd>
        <dt class="text-second">Peak of both</dt>
        <dd class="figures">{change(proposal.figures.peak_dbfs, 1, 'dBFS')}</dd>
        <dt class="text-second">Lost of {name}</dt>
        <dd class="figures">{proposal.figures.lost_db.toFixed(1)} dB</dd>
      </dl>
      <p class="flex flex-wrap gap-2">
        <button
          class="border-ink rounded-md border px-2 py-[2px] {hearing
            ? 'bg-ink text-panel'
            : 'hover:bg-chosen'}"
          aria-pressed={hearing}
          onclick={() => hear(!hearing)}>Hear it</button
        >
        <button
          class="border-ink hover:bg-chosen rounded-md border px-2 py-[2px]"
          onclick={() => take(() => ducks.takeRoom())}>Take it over</button
        >
      </p>
    {:else if room.short}
      <p class="text-second">Nothing is proposed: {room.short}.</p>
    {/if}
  {:else}
    <p class="text-second">
      Measures what both share over four bars at most, and what would take it away. Nothing changes before you
      take it over.
    </p>
  {/if}
</section>
