<!-- A row in Route: where it goes, and its values where they stand in a table. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import Output from './Output.svelte';
  import TableCells from './TableCells.svelte';

  let { row }: { row: Row } = $props();
  const { board } = desktop();
</script>

<Output {row} />
{#if board.routeTable}<TableCells {row} latency={board.latency} />{/if}
