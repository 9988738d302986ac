<!-- How far what a stage hears is: of how many bars, on its way, or called off and to be begun again. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import GaugeBar from './GaugeBar.svelte';

  interface Props {
    hearing: { readonly bars: number; readonly rests: boolean; again: () => void };
  }
  let { hearing }: Props = $props();
  const { board, gauge } = desktop();
</script>

{#if hearing.bars < board.loop.length}
  <span class="text-second">heard: the first {hearing.bars} of {board.loop.length} bars</span>
{/if}
<GaugeBar />
{#if hearing.rests && gauge.part === undefined}
  <button class="underline" onclick={() => hearing.again()}>Hear again</button>
{/if}
