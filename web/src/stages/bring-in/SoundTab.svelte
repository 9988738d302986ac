<!-- What the chosen lane sounds: its layers, their cut and shape, and what the whole voice does. -->
<script lang="ts">
  import { LIMITS } from '$lib/api/types/limits';
  import { range } from '$lib/limits';
  import type { Layer, VoiceSource } from '$lib/api/types';
  import { FAMILIES } from '$lib/families';
  import { desktop } from '$lib/state/context';
  import Field from '$lib/ui/Field.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import LayerPicture from './LayerPicture.svelte';
  import Library from './Library.svelte';

  const { session, player, board } = desktop();
  const voice = $derived(board.current?.voice);
  const source = $derived(voice?.source);
  const layers = $derived(source?.kind === 'one_shot' ? source.layers : []);
  let chosen = $state(0);
  const at = $derived(Math.min(chosen, Math.max(0, layers.length - 1)));
  const layer = $derived(layers[at]);
  const asset = $derived(session.doc.assets.find((a) => a.id === layer?.asset));
  const ms = $derived((frames: number) => (frames / (asset?.sample_rate ?? 48000)) * 1000);
  const frames = $derived((x: number) => Math.round((x / 1000) * (asset?.sample_rate ?? 48000)));
  const length = $derived(asset?.frames ?? 0);
  const leaders = $derived([
    { value: -1, text: 'itself' },
    ...session.doc.voices
      .filter((v) => v.id !== voice?.id && v.follows === null)
      .map((v) => ({ value: v.id, text: v.name })),
  ]);
  const chokes = [
    { value: 0, text: 'none' },
    ...Array.from({ length: 16 }, (_, n) => ({ value: n + 1, text: `set ${n + 1}` })),
  ];

  type How = 'apply' | 'try';
  function setSource(next: VoiceSource, how: How = 'apply') {
    if (voice) session[how]({ kind: 'set_source', voice: voice.id, source: next, assets: [] });
  }
  function set(change: Partial<Layer>, how: How = 'apply') {
    if (source?.kind !== 'one_shot') return;
    setSource({ ...source, layers: layers.map((l, n) => (n === at ? { ...l, ...change } : l)) }, how);
  }
  const values = (change: (x: number) => Partial<Layer>) => ({
    onlive: (x: number) => set(change(x), 'try'),
    oncommit: (x: number) => set(change(x)),
    oncancel: () => session.cancelLive(),
  });
  function drop(index: number) {
    if (source?.kind === 'one_shot') setSource({ ...source, layers: layers.filter((_, n) => n !== index) });
  }
</script>

{#if !voice}
  <p class="text-second">Choose a lane to see its sound.</p>
{:else}
  {@const here = voice}
  <div class="grid h-full min-h-0 grid-cols-[140px_minmax(0,1fr)_296px_172px_230px] gap-4">
    <div class="flex min-h-0 flex-col">
      <h2 class="truncate font-semibold">{voice.name}</h2>
      <ol class="mt-1 min-h-0 flex-1 overflow-auto" aria-label="Layers of {voice.name}">
        {#each layers as item, n (n)}
          {@const name = session.doc.assets.find((a) => a.id === item.asset)?.name ?? 'missing'}
          <li class="flex items-center {n === at ? 'bg-chosen' : ''}">
            <button
              class="min-w-0 flex-1 truncate px-1 text-left"
              aria-pressed={n === at}
              title={name}
              onclick={() => {
                chosen = n;
                player.audition(here.id, n);
              }}>{n + 1} {name}</button
            >
            <button class="px-1" aria-label="Remove layer {n + 1}" onclick={() => drop(n)}>×</button>
          </li>
        {:else}
          <li class="text-look">
            {source?.kind === 'recording'
              ? 'A recording, as it was played.'
              : 'No sound yet. Take one from the library.'}
          </li>
        {/each}
      </ol>
      {#if source?.kind === 'recording'}
        {@const recording = source}
        {@const rate = session.doc.header.sample_rate}
        <Field
          name="Starts at"
          label="Start of the recording after bar 1"
          value={recording.start_frame / rate}
          min={0}
          max={LIMITS.song_seconds}
          unit="s"
          digits={3}
          oncommit={(s) => setSource({ ...recording, start_frame: Math.round(s * rate) })}
        />
      {/if}
      <div class="flex flex-wrap gap-x-3 text-[12px]">
        <button
          class="underline"
          onclick={() =>
            session.apply({ kind: 'duplicate_voice', voice: here.id, with_chain: true, follows: true })}
          title="A copy on a channel of its own, with this lane's settings, that follows its pattern"
          >Copy the lane</button
        >
        <button
          class="underline"
          onclick={() =>
            session.apply({ kind: 'duplicate_voice', voice: here.id, with_chain: false, follows: false })}
          title="A copy with a channel at rest and hits of its own">Copy bare</button
        >
      </div>
    </div>
    {#if layer && asset}
      <LayerPicture
        {layer}
        {asset}
        color="var(--{voice.family})"
        onlive={(c) => set(c, 'try')}
        oncommit={set}
      />
      <div class="grid grid-cols-2 content-start gap-x-3 overflow-auto">
        <Field
          name="Gain"
          label="Gain of layer {at + 1}"
          value={layer.gain_db}
          {...range('trim_db')}
          unit="dB"
          offAt={-100}
          {...values((gain_db) => ({ gain_db }))}
        />
        <Field
          name="Velocity"
          label="Velocity to gain of layer {at + 1}"
          value={layer.velocity_percent}
          {...range('velocity_percent')}
          unit="%"
          digits={0}
          reset={100}
          {...values((velocity_percent) => ({ velocity_percent }))}
        />
        <Field
          name="Tune"
          label="Semitones of layer {at + 1}"
          value={Math.trunc(layer.tune_ct / 100)}
          min={-48}
          max={48}
          unit="st"
          digits={0}
          {...values((st) => ({ tune_ct: Math.round(st) * 100 + (layer.tune_ct % 100) }))}
        />
        <Field
          name="Fine"
          label="Cents of layer {at + 1}"
          value={layer.tune_ct % 100}
          min={-99}
          max={99}
          unit="ct"
          {...values((ct) => ({ tune_ct: Math.trunc(layer.tune_ct / 100) * 100 + ct }))}
        />
        <Field
          name="Start"
          label="Start of layer {at + 1}"
          value={ms(layer.start_frame)}
          min={0}
          max={Math.max(0, ms((layer.end_frame ?? length) - 1))}
          unit="ms"
          {...values((x) => ({ start_frame: Math.min(frames(x), (layer.end_frame ?? length) - 1) }))}
        />
        <Field
          name="End"
          label="End of layer {at + 1}"
          value={ms(layer.end_frame ?? length)}
          min={ms(layer.start_frame + 1)}
          max={ms(length)}
          unit="ms"
          reset={ms(length)}
          {...values((x) => ({
            end_frame: frames(x) >= length ? null : Math.max(layer.start_frame + 1, frames(x)),
          }))}
        />
        <Field
          name="Fade-in"
          label="Fade-in of layer {at + 1}"
          value={layer.fade_in.ms}
          {...range('fade_ms')}
          unit="ms"
          {...values((x) => ({ fade_in: { ...layer.fade_in, ms: x } }))}
        />
        <Field
          name="Curve"
          label="Curve of the fade-in of layer {at + 1}"
          value={layer.fade_in.curve_percent}
          {...range('curve_percent')}
          unit="%"
          digits={0}
          {...values((curve_percent) => ({ fade_in: { ...layer.fade_in, curve_percent } }))}
        />
        {#if layer.decay}
          {@const decay = layer.decay}
          <Field
            name="Hold"
            label="Hold of layer {at + 1}"
            value={decay.hold_ms}
            {...range('hold_ms')}
            unit="ms"
            {...values((hold_ms) => ({ decay: { ...decay, hold_ms } }))}
          />
          <Field
            name="Decay"
            label="Decay of layer {at + 1}"
            value={decay.ms}
            {...range('decay_ms')}
            unit="ms"
            {...values((x) => ({ decay: { ...decay, ms: x } }))}
          />
          <Field
            name="Curve"
            label="Curve of the decay of layer {at + 1}"
            value={decay.curve_percent}
            {...range('curve_percent')}
            unit="%"
            digits={0}
            {...values((curve_percent) => ({ decay: { ...decay, curve_percent } }))}
          />
        {/if}
        {#if layer.decay && layer.sweep}<span></span>{/if}
        {#if layer.sweep}
          {@const sweep = layer.sweep}
          <Field
            name="Sweep"
            label="Depth of the pitch sweep of layer {at + 1}"
            value={sweep.depth_st}
            {...range('sweep_st')}
            unit="st"
            {...values((depth_st) => ({ sweep: { ...sweep, depth_st } }))}
          />
          <Field
            name="Time"
            label="Time of the pitch sweep of layer {at + 1}"
            value={sweep.ms}
            {...range('sweep_ms')}
            unit="ms"
            {...values((x) => ({ sweep: { ...sweep, ms: x } }))}
          />
        {/if}
        <div class="col-span-2 mt-1 flex gap-2">
          {#each [{ name: 'Reverse', on: layer.reverse, to: { reverse: !layer.reverse } }, { name: 'Decay', on: layer.decay !== null, to: { decay: layer.decay ? null : { hold_ms: 0, ms: Math.min(10000, Math.max(1, Math.round(ms(length)))), curve_percent: 60 } } }, { name: 'Pitch sweep', on: layer.sweep !== null, to: { sweep: layer.sweep ? null : { depth_st: 12, ms: 40 } } }] as toggle (toggle.name)}
            <button
              class="border-line rounded-sm border px-2 py-px {toggle.on
                ? 'bg-ink text-panel border-ink'
                : ''}"
              aria-pressed={toggle.on}
              onclick={() => set(toggle.to)}>{toggle.name}</button
            >
          {/each}
        </div>
      </div>
    {:else}
      <div class="col-span-2"></div>
    {/if}
    <div class="grid grid-cols-[minmax(0,1fr)] content-start gap-1 overflow-auto pr-1">
      <Picker
        label="Family"
        named
        class="w-full"
        value={voice.family}
        options={FAMILIES}
        onpick={(family) => session.apply({ kind: 'set_family', voice: here.id, family })}
      />
      {#if source?.kind === 'one_shot'}
        {@const sounding = source}
        <Picker
          label="Held"
          named
          value={source.hold.kind}
          options={[
            { value: 'whole', text: 'whole' },
            { value: 'gate', text: 'for the hit' },
          ]}
          onpick={(kind) =>
            setSource({ ...sounding, hold: kind === 'gate' ? { kind, release_ms: 60 } : { kind: 'whole' } })}
        />
        {#if source.hold.kind === 'gate'}
          <Field
            name="Release"
            label="Release of {voice.name}"
            value={source.hold.release_ms}
            {...range('release_ms')}
            unit="ms"
            reset={60}
            oncommit={(release_ms) => setSource({ ...sounding, hold: { kind: 'gate', release_ms } })}
          />
        {/if}
      {/if}
      <Picker
        label="Choke"
        named
        value={voice.choke_set ?? 0}
        options={chokes}
        onpick={(n) => session.apply({ kind: 'set_choke', voices: [here.id], set: n || null })}
      />
      <Picker
        label="Plays hits of"
        named
        class="w-full"
        value={voice.follows ?? -1}
        options={leaders}
        onpick={(id) => session.apply({ kind: 'follow', voice: here.id, leader: id < 0 ? null : id })}
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
          oncommit={(percent) =>
            session.apply({ kind: 'set_voice_swing', voices: [here.id], swing: { ...swing, percent } })}
        />
        <button
          class="text-left text-[12px] underline"
          onclick={() => session.apply({ kind: 'set_voice_swing', voices: [here.id], swing: null })}
          >Swing like the song</button
        >
      {:else}
        <button
          class="text-left text-[12px] underline"
          onclick={() =>
            session.apply({ kind: 'set_voice_swing', voices: [here.id], swing: session.doc.header.swing })}
          >Swing of its own</button
        >
      {/if}
    </div>
    <Library {voice} layer={at} onadded={() => (chosen = layers.length)} />
  </div>
{/if}
