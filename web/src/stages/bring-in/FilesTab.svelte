<!-- Files to bring in, and what was not taken or taken otherwise. -->
<script lang="ts">
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';

  const { bringIn } = desktop();
  let picker = $state<HTMLInputElement>();
</script>

<div class="grid h-full grid-cols-[minmax(0,4fr)_minmax(0,7fr)] gap-6">
  <div>
    <p class="text-second">
      Short sounds become voices, recordings of more than 8 s run from bar 1, MIDI becomes hits. WAV, AIFF,
      FLAC, MP3, OGG, MID, folders and ZIP files: drop them anywhere, or
    </p>
    <Button class="mt-3" disabled={bringIn.running} onclick={() => picker?.click()}>Choose files</Button>
    <input
      bind:this={picker}
      type="file"
      multiple
      class="hidden"
      aria-label="Files to bring in"
      onchange={(event) => {
        const files = [...(event.currentTarget.files ?? [])];
        void bringIn.take(files.map((file) => ({ path: file.name, file })));
        event.currentTarget.value = '';
      }}
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
      {#each bringIn.remarks as remark, at (at)}
        <li class="text-look">{remark}</li>
      {/each}
    </ul>
  </div>
</div>
