<script lang="ts">
  import type { Family } from '$lib/api/types';
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';
  import Waveform from '$lib/ui/Waveform.svelte';
  import Sections from './Sections.svelte';

  const { session, player, board, bringIn } = desktop();
  const families: { value: Family; text: string }[] = [
    { value: 'low', text: 'Low' },
    { value: 'snare', text: 'Snare and clap' },
    { value: 'hats', text: 'Hats and cymbals' },
    { value: 'percussion', text: 'Percussion' },
    { value: 'bass', text: 'Bass' },
    { value: 'music', text: 'Music' },
  ];
  let picker = $state<HTMLInputElement>();
  const voice = $derived(board.current?.voice);
  const layer = $derived(voice?.source.kind === 'one_shot' ? voice.source.layers[0] : undefined);
  const assetId = $derived(
    layer?.asset ?? (voice?.source.kind === 'recording' ? voice.source.asset : undefined),
  );
  const asset = $derived(session.doc.assets.find((a) => a.id === assetId));

  function setLayer(change: Partial<NonNullable<typeof layer>>, how: 'apply' | 'try') {
    if (voice?.source.kind !== 'one_shot' || !layer) return;
    const layers = [{ ...layer, ...change }, ...voice.source.layers.slice(1)];
    session[how]({ kind: 'set_source', voice: voice.id, source: { ...voice.source, layers }, assets: [] });
  }
</script>

<div class="grid h-full grid-cols-[minmax(0,5fr)_minmax(0,4fr)_minmax(0,4fr)] gap-6">
  <div class="min-w-0">
    {#if voice}
      {@const here = voice}
      <h2 class="font-semibold">{voice.name}</h2>
      <div class="mt-2 flex gap-4">
        <div class="border-line bg-panel relative rounded-sm border p-1">
          <Waveform
            peaks={assetId ? player.overviews[assetId] : undefined}
            color="var(--{voice.family})"
            width={190}
            height={76}
          />
          {#if asset}
            <div class="flex justify-between px-1">
              <p class="text-second max-w-[120px] truncate text-[12px]">
                {asset.name}
              </p>
              <p class="figures text-second">
                {Math.round((asset.frames / asset.sample_rate) * 1000)} ms
              </p>
            </div>
          {/if}
        </div>
        <div class="grid content-start gap-1">
          <Picker
            label="Family"
            named
            class="w-28"
            value={voice.family}
            options={families}
            onpick={(family) => session.apply({ kind: 'set_family', voice: here.id, family })}
          />
          {#if layer}
            <div class="flex items-center gap-2">
              <span class="text-second w-20">Gain, dB</span>
              <ValueField
                label="Gain of {voice.name}"
                value={layer.gain_db}
                min={-100}
                max={24}
                unit="dB"
                offAt={-100}
                onlive={(gain_db) => setLayer({ gain_db }, 'try')}
                oncommit={(gain_db) => setLayer({ gain_db }, 'apply')}
                oncancel={() => session.cancelLive()}
              />
            </div>
            <div class="flex items-center gap-2">
              <span class="text-second w-20">Tune, st</span>
              <ValueField
                label="Tuning of {voice.name}"
                value={layer.tune_ct / 100}
                min={-48}
                max={48}
                unit="st"
                digits={2}
                onlive={(st) => setLayer({ tune_ct: Math.round(st * 100) }, 'try')}
                oncommit={(st) => setLayer({ tune_ct: Math.round(st * 100) }, 'apply')}
                oncancel={() => session.cancelLive()}
              />
            </div>
          {:else if voice.source.kind === 'recording'}
            <p class="text-second">Recorded, runs from bar 1</p>
          {:else}
            <p class="text-look">No sound yet. Drop a sample with this name.</p>
          {/if}
        </div>
      </div>
    {:else}
      <p class="text-second">Choose a lane to see its sound.</p>
    {/if}
  </div>
  <Sections />
  <div class="min-w-0 overflow-auto">
    <h2 class="font-semibold">Bring in</h2>
    {#if bringIn.running}
      <div class="mt-2" role="status">
        <div class="bg-faint h-2 w-full">
          <div class="bg-ink h-2" style:width="{(bringIn.done / bringIn.total) * 100}%"></div>
        </div>
        <p class="mt-1 flex justify-between">
          <span class="text-second">{bringIn.done} of {bringIn.total} files</span>
          <Button kind="text" onclick={bringIn.cancel}>Cancel</Button>
        </p>
      </div>
    {:else}
      <p class="text-second mt-1">WAV, AIFF, FLAC, MP3, OGG or MIDI. Drop them anywhere, or</p>
      <Button class="mt-2" onclick={() => picker?.click()}>Choose files</Button>
    {/if}
    <input
      bind:this={picker}
      type="file"
      multiple
      class="hidden"
      aria-label="Files to bring in"
      onchange={(event) => {
        void bringIn.take([...(event.currentTarget.files ?? [])]);
        event.currentTarget.value = '';
      }}
    />
    <ul class="mt-2" aria-label="What was not brought in">
      {#each bringIn.refused as refusal, at (at)}
        <li class="text-wrong"><b>{refusal.file}</b>: {refusal.reason}</li>
      {/each}
      {#each bringIn.remarks as remark, at (at)}
        <li class="text-look">{remark}</li>
      {/each}
    </ul>
  </div>
</div>
