<!-- What the chosen lane sounds: its layers, their cut and shape, and what the whole voice does. -->
<script lang="ts">
  import type { Edit, Layer } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { tried } from '$lib/state/tried';
  import Field from '$lib/ui/Field.svelte';
  import LayerList from './LayerList.svelte';
  import LayerPicture from './LayerPicture.svelte';
  import Library from './Library.svelte';
  import VoiceFields from './VoiceFields.svelte';
  import { layerFields, layerSwitches } from './layer-fields';

  const { session, board } = desktop();
  const voice = $derived(board.current?.voice);
  const source = $derived(voice?.source);
  const layers = $derived(source?.kind === 'one_shot' ? source.layers : []);
  let chosen = $state(0);
  const at = $derived(Math.min(chosen, Math.max(0, layers.length - 1)));
  const layer = $derived(layers[at]);
  const asset = $derived(session.doc.assets.find((a) => a.id === layer?.asset));

  function edit(change: Partial<Layer>): Edit | undefined {
    if (!voice || source?.kind !== 'one_shot') return undefined;
    const changed = layers.map((l, n) => (n === at ? { ...l, ...change } : l));
    return { kind: 'set_source', voice: voice.id, source: { ...source, layers: changed }, assets: [] };
  }
  function set(change: Partial<Layer>, how: 'apply' | 'try' = 'apply') {
    const made = edit(change);
    if (made) session[how](made);
  }
</script>

{#if !voice}
  <p class="text-second">Choose a lane to see its sound.</p>
{:else}
  <div class="grid h-full min-h-0 grid-cols-[140px_minmax(0,1fr)_296px_172px_230px] gap-4">
    <LayerList {voice} {at} onchoose={(n) => (chosen = n)} />
    {#if layer && asset}
      <LayerPicture
        {layer}
        {asset}
        color="var(--{voice.family})"
        onlive={(c) => set(c, 'try')}
        oncommit={set}
      />
      <div class="grid grid-cols-2 content-start gap-x-3 overflow-auto">
        {#each layerFields(layer, asset) as { key, label, to, ...field } (key)}
          <Field
            {...field}
            label="{label} of layer {at + 1}"
            {...tried(session, (value) => edit(to(value)))}
          />
          {#if key === 'decay curve' && layer.sweep}<span></span>{/if}
        {/each}
        <div class="col-span-2 mt-1 flex gap-2">
          {#each layerSwitches(layer, asset) as toggle (toggle.name)}
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
    <VoiceFields {voice} />
    <Library {voice} layer={at} onadded={() => (chosen = layers.length)} />
  </div>
{/if}
