<!-- The account's samples. Arrow keys try the next one in the groove, Enter keeps it, Escape goes back. -->
<script lang="ts">
  import Glyph from '$lib/ui/Glyph.svelte';
  import { api } from '$lib/api/client';
  import type { BroughtSound, Family, LibraryLine, Voice, VoiceSource } from '$lib/api/types';
  import { bytesText } from '$lib/bytes';
  import { FAMILIES } from '$lib/families';
  import { plainLayer } from './incoming/placing';
  import { desktop } from '$stages/desktop';

  interface Props {
    voice: Voice;
    /** The layer that is swapped. */
    layer: number;
    onadded: () => void;
  }
  let { voice, layer, onadded }: Props = $props();
  const { session, player } = desktop();

  let search = $state('');
  let family = $state<Family | ''>('');
  let lines = $state<LibraryLine[]>([]);
  let loaded = $state(false);
  let problem = $state('');
  let tried = $state(-1);
  let wish = 0;

  let holds = $state('');

  async function load() {
    const mine = (wish += 1);
    try {
      const [found, { library_bytes }] = await Promise.all([api.library(search, family), api.holdings()]);
      if (mine === wish) [lines, loaded, problem, holds] = [found, true, '', bytesText(library_bytes)];
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  $effect(() => {
    void search;
    void family;
    void load();
  });

  function swapped(sound: BroughtSound): VoiceSource {
    const fresh = plainLayer(sound.asset.id);
    if (voice.source.kind !== 'one_shot' || voice.source.layers.length === 0)
      return { kind: 'one_shot', layers: [fresh], hold: { kind: 'whole' } };
    const layers = voice.source.layers.map((old, n) =>
      // Gain and shape stay; a cut belongs to the sample that it was made for.
      n === layer ? { ...old, asset: sound.asset.id, start_frame: 0, end_frame: null } : old,
    );
    return { ...voice.source, layers };
  }
  /** The sample at the session's rate; in the document only once it is kept. */
  async function edit(index: number, how: 'try' | 'apply', add = false) {
    const line = lines[index];
    if (!line) return;
    const mine = (wish += 1);
    try {
      const sound = await api.useSound(session.id, line.asset.id);
      if (mine !== wish) return;
      let source = swapped(sound);
      if (add && voice.source.kind === 'one_shot')
        source = { ...voice.source, layers: [...voice.source.layers, plainLayer(sound.asset.id)] };
      session[how]({ kind: 'set_source', voice: voice.id, source, assets: [sound.asset] });
      if (how === 'try' && !player.playing) player.audition(voice.id);
      if (add) onadded();
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  function attempt(index: number) {
    tried = Math.max(0, Math.min(lines.length - 1, index));
    document.getElementById(`sound-${tried}`)?.scrollIntoView({ block: 'nearest' });
    void edit(tried, 'try');
  }
  function back() {
    wish += 1;
    tried = -1;
    session.cancelLive();
  }
  function keep(index: number) {
    tried = -1;
    void edit(index, 'apply');
  }
  /** Where keys begin: beside the sound that plays, else with the lane's family. */
  function begin(by: 1 | -1): number {
    const now = voice.source.kind === 'one_shot' ? voice.source.layers[layer]?.asset : undefined;
    const here = lines.findIndex((l) => l.asset.id === now);
    return here >= 0
      ? here + by
      : Math.max(
          0,
          lines.findIndex((l) => l.family === voice.family),
        );
  }
  const step = (by: 1 | -1) => attempt(tried < 0 ? begin(by) : tried + by);
  function key(event: KeyboardEvent) {
    if (event.key === 'ArrowDown') step(1);
    else if (event.key === 'ArrowUp') step(-1);
    else if (event.key === 'Enter' && tried >= 0) keep(tried);
    else if (event.key === 'Escape') back();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<div class="flex min-h-0 flex-col">
  <div class="flex gap-1">
    <input
      type="search"
      class="border-line bg-panel min-w-0 flex-1 rounded-sm border px-1"
      placeholder="Search sounds"
      aria-label="Search sounds"
      title="Your library holds {holds}."
      bind:value={search}
    />
    <select
      class="border-line bg-panel w-20 rounded-sm border"
      aria-label="Family of sounds"
      bind:value={family}
    >
      <option value="">all</option>
      {#each FAMILIES as { value, text } (value)}
        <option {value}>{text}</option>
      {/each}
    </select>
  </div>
  <div
    role="listbox"
    tabindex="0"
    aria-label="Sounds"
    aria-activedescendant={tried >= 0 ? `sound-${tried}` : undefined}
    class="mt-1 min-h-0 flex-1 overflow-auto"
    onkeydown={key}
    onblur={() => tried >= 0 && back()}
  >
    {#each lines as line, n (line.asset.id)}
      <!-- The list has the focus and the keys; its options are only pointed at. -->
      <!-- svelte-ignore a11y_click_events_have_key_events, a11y_interactive_supports_focus -->
      <div
        id="sound-{n}"
        role="option"
        aria-selected={n === tried}
        class="flex items-center gap-2 px-1 {n === tried ? 'bg-chosen' : ''}"
        onclick={() => attempt(n)}
        ondblclick={() => keep(n)}
      >
        <Glyph kind={line.family} />
        <span class="min-w-0 flex-1 truncate">{line.name}</span>
        <span class="figures text-second text-[11px]!"
          >{((line.asset.frames / line.asset.sample_rate) * 1000).toFixed(0)} ms</span
        >
        <span class="figures text-second w-10 text-right text-[11px]!">{line.peak_dbfs.toFixed(1)}</span>
        <span class="figures text-second w-7 text-[11px]!">{line.pitch?.note ?? ''}</span>
      </div>
    {:else}
      {#if loaded && !search && !family}
        <button
          class="underline"
          onclick={async () => {
            await api.houseSounds();
            await load();
          }}>Put our house sounds here</button
        >
      {:else if loaded}
        <p class="text-second">No sound is called so.</p>
      {/if}
    {/each}
  </div>
  <p class="flex shrink-0 gap-2 pt-1 text-[12px]">
    {#if problem}<span class="text-wrong" role="alert">{problem}</span>
    {:else if tried >= 0}
      <!-- Kept from taking the focus, which would end the trial. -->
      <button class="underline" onmousedown={(e) => e.preventDefault()} onclick={() => keep(tried)}
        >Keep</button
      >
      <button
        class="underline"
        onmousedown={(e) => e.preventDefault()}
        onclick={() => {
          const index = tried;
          back();
          void edit(index, 'apply', true);
        }}>Add as a layer</button
      >
      <button class="underline" onmousedown={(e) => e.preventDefault()} onclick={back}>Back</button>
    {:else}<span class="text-second">↑ ↓ try, Enter keeps, Escape goes back</span>{/if}
  </p>
</div>
