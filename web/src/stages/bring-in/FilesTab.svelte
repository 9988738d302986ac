<!-- Files to bring in, and what was not taken or taken otherwise. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import { desktop } from '$stages/desktop';
  import { chosenFolder, type Entry } from './incoming/unpack';
  import Button from '$lib/ui/Button.svelte';

  const { bringIn, session } = desktop();
  const target = $derived.by(() => {
    const { by, db } = session.header.targets.lane;
    return by === 'peak' ? `${db.toFixed(1)} dBFS` : 'the target (of peaks only)';
  });
  let picker = $state<HTMLInputElement>();
  let folder = $state<HTMLInputElement>();

  function take(event: Event, entries: (files: File[]) => Entry[]) {
    const input = event.currentTarget as HTMLInputElement;
    void bringIn.take(entries([...(input.files ?? [])]));
    // The same choice again is a change again.
    input.value = '';
  }
</script>

<div class="grid h-full grid-cols-[minmax(0,4fr)_minmax(0,7fr)] gap-6">
  <div>
    <p class="text-second">
      Short sounds become voices, recordings of more than 8 s run from bar 1, MIDI becomes hits. WAV, AIFF,
      FLAC, MP3, OGG, MID, folders and ZIP files: drop them anywhere, or
    </p>
    <p class="mt-3 flex gap-3">
      <Button disabled={bringIn.running} onclick={() => picker?.click()}>Choose files</Button>
      <Button disabled={bringIn.running} onclick={() => folder?.click()}>Choose a folder</Button>
    </p>
    <label class="mt-3 flex items-center gap-2" title="Their balance stays; undo takes it back with them">
      <CheckMark checked={bringIn.trims} onchange={(to) => bringIn.setTrims(to)} />
      Trim what comes in together, so that the loudest peaks at {target}
    </label>
    <input
      bind:this={picker}
      type="file"
      multiple
      class="hidden"
      aria-label="Files to bring in"
      onchange={(event) => take(event, (files) => files.map((file) => ({ path: file.name, file })))}
    />
    <input
      bind:this={folder}
      type="file"
      webkitdirectory
      class="hidden"
      aria-label="Folder to bring in"
      onchange={(event) => take(event, chosenFolder)}
    />
  </div>
  <div class="min-h-0 overflow-auto">
    {#if bringIn.refused.length + bringIn.remarks.length === 0}
      <p class="text-second">What cannot be brought in is listed here with the reason.</p>
    {/if}
    <ul aria-label="What was not brought in">
      {#each bringIn.refused as refusal, at (at)}
        <li class="text-wrong"><b>{refusal.file}</b>: {refusal.reason}</li>
      {/each}
    </ul>
    <ul aria-label="What to know about what came in">
      {#each bringIn.remarks as remark, at (at)}
        <li class="text-look">{remark}</li>
      {/each}
    </ul>
  </div>
</div>
