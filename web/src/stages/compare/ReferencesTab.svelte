<!-- References: what of each is played, by itself or along with the song. None of them reaches main or a stem. -->
<script lang="ts">
  import type { Reference } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { LIMITS } from '$lib/api/types/limits';
  import NameField from '$lib/ui/NameField.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';
  import Section from './Section.svelte';

  const { session, sides, player } = desktop();
  const rate = $derived(session.header.sample_rate);
  const framesOf = (r: Reference) => session.doc.assets.find((a) => a.id === r.asset)?.frames ?? r.to_frame;
  const set = (reference: Reference, change: Partial<Reference>) =>
    session.apply({ kind: 'set_reference', reference: { ...reference, ...change } });
  /** At least a tenth of a second stays. */
  const least = $derived(Math.round(rate / 10));
  function span(reference: Reference, from: number, to: number) {
    const whole = framesOf(reference);
    const from_frame = Math.max(0, Math.min(Math.round(from), whole - least));
    const to_frame = Math.min(whole, Math.max(Math.round(to), from_frame + least));
    set(reference, { from_frame, to_frame });
  }
  const ways = [
    { value: 'own', text: 'by itself, round and round' },
    { value: 'follows', text: 'along with the song' },
  ] as const;
</script>

<ul aria-label="References">
  {#each session.doc.references as reference (reference.id)}
    {@const on = sides.has(`reference ${reference.id}`)}
    {@const seconds = framesOf(reference) / rate}
    <li class="border-line border-b py-1">
      <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
        <span class="max-w-[180px] truncate font-semibold">
          <NameField
            value={reference.name}
            label="Name of reference {reference.name}"
            onname={(name) => set(reference, { name })}
          />
        </span>
        <Picker
          label="How {reference.name} is played"
          value={reference.follows ? 'follows' : 'own'}
          options={[...ways]}
          onpick={(to) => set(reference, { follows: to === 'follows' })}
        />
        {#if reference.follows}
          <span class="flex items-center gap-1"
            >from bar
            <ValueField
              label="Bar of the song that {reference.name} begins at"
              value={reference.start_bar + 1}
              min={1}
              max={LIMITS.reference_bar + 1}
              unit=""
              reset={1}
              digits={0}
              class="w-10!"
              oncommit={(bar) => set(reference, { start_bar: Math.round(bar) - 1 })}
            /></span
          >
        {/if}
        {#each [['from_frame', 'Start'], ['to_frame', 'End']] as const as [edge, word] (edge)}
          <span class="flex items-center gap-1"
            >{word.toLowerCase()}
            <ValueField
              label="{word} of what is played of {reference.name}"
              value={reference[edge] / rate}
              min={0}
              max={seconds}
              unit="s"
              reset={edge === 'from_frame' ? 0 : seconds}
              digits={1}
              class="w-14!"
              oncommit={(s) =>
                edge === 'from_frame'
                  ? span(reference, s * rate, reference.to_frame)
                  : span(reference, reference.from_frame, s * rate)}
            /></span
          >
        {/each}
        <span class="flex-1"></span>
        <button
          class="underline"
          aria-pressed={on}
          aria-label="{on ? 'Leave' : 'Compare with'} {reference.name}"
          onclick={() => (on ? sides.remove(`reference ${reference.id}`) : sides.addReference(reference))}
          >{on ? 'Leave' : 'Compare'}</button
        >
        <button
          class="text-second underline"
          aria-label="Remove reference {reference.name}"
          onclick={() => session.apply({ kind: 'remove_reference', reference: reference.id })}>Remove</button
        >
      </div>
      {#if on}
        <Section
          name={reference.name}
          peaks={player.overviews[reference.asset]}
          from={reference.from_frame / framesOf(reference)}
          to={reference.to_frame / framesOf(reference)}
          onspan={(from, to) => span(reference, from * framesOf(reference), to * framesOf(reference))}
        />
      {/if}
    </li>
  {:else}
    <li class="text-second max-w-md">
      None yet. Bring one in with “Another side”, or drop a file on the sides: a recording of any length and
      rate. It goes past everything and is in no stem.
    </li>
  {/each}
</ul>
