<!-- The position across the hits of all lanes. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  const { board } = desktop();
  const part = $derived((board.positionBars - board.loopStart) / Math.max(1, board.loop.length));
</script>

{#if part >= 0 && part <= 1}
  <!-- As wide as the hits, and moved by parts of its width, so that nothing is laid out anew. -->
  <div
    class="pointer-events-none absolute top-0 right-0 left-[calc(var(--row-head)+130px)] border-l-2"
    style:height="{board.doc.voices.length * board.rowHeight}px"
    style:border-color="var(--low)"
    style:transform="translateX({100 * part}%)"
  ></div>
{/if}
