<!-- The layers of a voice; a press plays one alone. -->
<script lang="ts">
  import type { Voice } from '$lib/api/types';
  import { LIMITS } from '$lib/api/types/limits';
  import { desktop } from '$stages/desktop';
  import Field from '$lib/ui/Field.svelte';

  let { voice, at, onchoose }: { voice: Voice; at: number; onchoose: (layer: number) => void } = $props();
  const { session, player } = desktop();
  const source = $derived(voice.source);
  const layers = $derived(source.kind === 'one_shot' ? source.layers : []);
  const nameOf = (asset: string) => session.doc.assets.find((a) => a.id === asset)?.name ?? 'missing';

  function drop(index: number) {
    if (source.kind !== 'one_shot') return;
    const left = { ...source, layers: layers.filter((_, n) => n !== index) };
    session.apply({ kind: 'set_source', voice: voice.id, source: left, assets: [] });
  }
  const copy = (with_chain: boolean, follows: boolean) => () =>
    session.apply({ kind: 'duplicate_voice', voice: voice.id, with_chain, follows });
</script>

<div class="flex min-h-0 flex-col">
  <h2 class="truncate font-semibold">{voice.name}</h2>
  <ol class="mt-1 min-h-0 flex-1 overflow-auto" aria-label="Layers of {voice.name}">
    {#each layers as item, n (n)}
      {@const name = nameOf(item.asset)}
      <li class="flex items-center {n === at ? 'bg-chosen' : ''}">
        <button
          class="min-w-0 flex-1 truncate px-1 text-left"
          aria-pressed={n === at}
          title={name}
          onclick={() => {
            onchoose(n);
            player.audition(voice.id, n);
          }}>{n + 1} {name}</button
        >
        <button class="px-1" aria-label="Remove layer {n + 1}" onclick={() => drop(n)}>×</button>
      </li>
    {:else}
      <li class="text-look">
        {source.kind === 'recording'
          ? 'A recording, as it was played.'
          : 'No sound yet. Take one from the library.'}
      </li>
    {/each}
  </ol>
  {#if source.kind === 'recording'}
    {@const recording = source}
    {@const rate = session.header.sample_rate}
    <Field
      name="Starts at"
      label="Start of the recording after bar 1"
      value={recording.start_frame / rate}
      min={0}
      max={LIMITS.song_seconds}
      unit="s"
      digits={3}
      oncommit={(s) =>
        session.apply({
          kind: 'set_source',
          voice: voice.id,
          source: { ...recording, start_frame: Math.round(s * rate) },
          assets: [],
        })}
    />
  {/if}
  <div class="flex flex-wrap gap-x-3 text-[12px]">
    <button
      class="underline"
      onclick={copy(true, true)}
      title="A copy on a channel of its own, with this lane's settings, that follows its pattern"
      >Copy the lane</button
    >
    <button
      class="underline"
      onclick={copy(false, false)}
      title="A copy with a channel at rest and hits of its own">Copy bare</button
    >
  </div>
</div>
