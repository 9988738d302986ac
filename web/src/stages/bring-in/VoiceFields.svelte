<!-- What a whole voice does: its family, how long a hit sounds, what chokes it, whose hits it plays, its swing. -->
<script lang="ts">
  import type { Voice } from '$lib/api/types';
  import { FAMILIES } from '$lib/families';
  import { range } from '$lib/limits';
  import { desktop } from '$stages/desktop';
  import Field from '$lib/ui/Field.svelte';
  import Picker from '$lib/ui/Picker.svelte';

  let { voice }: { voice: Voice } = $props();
  const { session } = desktop();
  const source = $derived(voice.source);

  /** A release that suits a note as it begins, in ms. */
  const RELEASE_MS = 60;
  const ITSELF = -1;
  const leaders = $derived([
    { value: ITSELF, text: 'itself' },
    ...session.doc.voices
      .filter((v) => v.id !== voice.id && v.follows === null)
      .map((v) => ({ value: v.id, text: v.name })),
  ]);
  const chokes = [
    { value: 0, text: 'none' },
    ...Array.from({ length: range('choke_set').max }, (_, n) => ({ value: n + 1, text: `set ${n + 1}` })),
  ];
  function hold(hold: { kind: 'whole' } | { kind: 'gate'; release_ms: number }) {
    if (source.kind === 'one_shot')
      session.apply({ kind: 'set_source', voice: voice.id, source: { ...source, hold }, assets: [] });
  }
  const setSwing = (swing: Voice['swing']) =>
    session.apply({ kind: 'set_voice_swing', voices: [voice.id], swing });
</script>

<div class="grid grid-cols-[minmax(0,1fr)] content-start gap-1 overflow-auto pr-1">
  <Picker
    label="Family"
    named
    class="w-full"
    value={voice.family}
    options={FAMILIES}
    onpick={(family) => session.apply({ kind: 'set_family', voice: voice.id, family })}
  />
  {#if source.kind === 'one_shot'}
    <Picker
      label="Held"
      named
      value={source.hold.kind}
      options={[
        { value: 'whole', text: 'whole' },
        { value: 'gate', text: 'for the hit' },
      ]}
      onpick={(kind) => hold(kind === 'gate' ? { kind, release_ms: RELEASE_MS } : { kind: 'whole' })}
    />
    {#if source.hold.kind === 'gate'}
      <Field
        name="Release"
        label="Release of {voice.name}"
        value={source.hold.release_ms}
        {...range('release_ms')}
        unit="ms"
        reset={RELEASE_MS}
        oncommit={(release_ms) => hold({ kind: 'gate', release_ms })}
      />
    {/if}
  {/if}
  <Picker
    label="Choke"
    named
    value={voice.choke_set ?? 0}
    options={chokes}
    onpick={(n) => session.apply({ kind: 'set_choke', voices: [voice.id], set: n || null })}
  />
  <Picker
    label="Plays hits of"
    named
    class="w-full"
    value={voice.follows ?? ITSELF}
    options={leaders}
    onpick={(id) => session.applySure({ kind: 'follow', voice: voice.id, leader: id === ITSELF ? null : id })}
  />
  {#if voice.swing}
    {@const swing = voice.swing}
    <Field
      name="Own swing"
      label="Swing of {voice.name}"
      value={swing.percent}
      {...range('swing_percent')}
      unit="%"
      reset={50}
      oncommit={(percent) => setSwing({ ...swing, percent })}
    />
    <button class="text-left text-[12px] underline" onclick={() => setSwing(null)}>Swing like the song</button
    >
  {:else}
    <button class="text-left text-[12px] underline" onclick={() => setSwing(session.header.swing)}
      >Swing of its own</button
    >
  {/if}
</div>
