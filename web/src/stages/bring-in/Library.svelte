<!-- The account's samples. Arrow keys try the next one in the groove; going on keeps it, Escape goes back. -->
<script lang="ts">
  import { ended } from '$lib/state/ended';
  import Glyph from '$lib/ui/Glyph.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { api } from '$lib/api/client';
  import type { BroughtSound, Edit, Family, LibraryLine, Voice, VoiceSource } from '$lib/api/types';
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
  /** The sound that is tried, as an edit, and what it is called. */
  let trying: { edit: Edit; voice: number; name: string } | undefined;

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
      const made: Edit = { kind: 'set_source', voice: voice.id, source, assets: [sound.asset] };
      trying = how === 'try' ? { edit: made, voice: voice.id, name: line.name } : undefined;
      session[how](made);
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
    trying = undefined;
    session.cancelLive();
  }
  function keep(index: number) {
    const now = tried === index ? trying : undefined;
    tried = -1;
    trying = undefined;
    if (now) session.apply(now.edit);
    else void edit(index, 'apply');
  }
  /** Somebody goes on to something else: what was tried stays, as one step, and that is said. */
  function goOn() {
    const now = trying;
    if (!now) return;
    wish += 1;
    tried = -1;
    trying = undefined;
    // A lane that went took it along.
    if (!session.doc.voices.some((v) => v.id === now.voice)) return;
    if (session.apply(now.edit)) session.tell(`Kept: ${now.name}.`, session.undoLabel);
  }
  /** The layer that is swapped, by itself: the lane is another object with every sound that is tried. */
  const swaps = $derived(`${voice.id} ${layer}`);
  $effect(() => {
    void swaps;
    return ended(goOn);
  });
  let panel = $state<HTMLElement>();
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

<div class="flex min-h-0 flex-col" bind:this={panel}>
  <div class="flex gap-1">
    <input
      type="search"
      class="border-line bg-panel min-w-0 flex-1 rounded-sm border px-1"
      placeholder="Search sounds"
      aria-label="Search sounds"
      title="Your library holds {holds}."
      bind:value={search}
    />
    <Picker
      label="Family of sounds"
      class="w-20"
      value={family}
      options={[{ value: '', text: 'all' }, ...FAMILIES]}
      onpick={(to) => (family = to)}
    />
  </div>
  <div
    role="listbox"
    tabindex="0"
    aria-label="Sounds"
    aria-activedescendant={tried >= 0 ? `sound-${tried}` : undefined}
    class="mt-1 min-h-0 flex-1 overflow-auto"
    onkeydown={key}
    onblur={(event) => panel?.contains(event.relatedTarget as Node | null) || goOn()}
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
