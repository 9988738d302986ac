<script lang="ts">
  import { desktop } from '$stages/desktop';
  import { barsAt } from '$lib/ui/counted';

  const { board } = desktop();
</script>

<span class="w-[130px] pl-2">Sound</span>
<span class="pl-2"
  >Hits in the loop: {board.loop[0]?.section.name ?? ''}, {barsAt(board.loopStart, board.loop.length)}</span
>
