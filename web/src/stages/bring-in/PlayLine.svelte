<!-- The position across the hits of all lanes. -->
<script lang="ts">
  import { desktop } from '$lib/state/context';
  const { board } = desktop();
  const part = $derived((board.positionBars - board.loopStart) / Math.max(1, board.loop.length));
</script>

{#if part >= 0 && part <= 1}
  <div
    class="pointer-events-none absolute top-0 w-[2px]"
    style:height="{board.doc.voices.length * board.rowHeight}px"
    style:background="var(--low)"
    style:left="calc(410px + (100% - 410px) * {part})"
  ></div>
{/if}
