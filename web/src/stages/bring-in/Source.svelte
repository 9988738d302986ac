<!-- What a lane plays, small. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import Waveform from '$lib/ui/Waveform.svelte';

  let { row }: { row: Row } = $props();
  const { player, board } = desktop();
  const source = $derived(row.voice?.source);
  const asset = $derived(
    source?.kind === 'one_shot'
      ? source.layers[0]?.asset
      : source?.kind === 'recording'
        ? source.asset
        : undefined,
  );
</script>

<div class="flex w-[130px] shrink-0 items-center gap-1 pl-2" style:opacity={row.strip.mute ? 0.4 : 1}>
  {#if row.voice && asset}
    {@const voice = row.voice}
    <button
      aria-label="Hear {row.name}"
      title="Hear it"
      onclick={() => player.audition(voice.id)}
      disabled={source?.kind !== 'one_shot'}
      class="disabled:opacity-100"
    >
      <Waveform
        peaks={player.overviews[asset]}
        color="var(--{row.kind})"
        width={108}
        height={board.rowHeight - 9}
      />
    </button>
  {:else if row.voice}
    <span class="text-look text-[12px]">no sound yet</span>
  {/if}
</div>
