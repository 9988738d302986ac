<!-- A row in Bring in: where its sound comes from, and its hits in the loop. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import Hits from './Hits.svelte';
  import Source from './Source.svelte';

  let { row }: { row: Row } = $props();
</script>

<Source {row} />
<Hits {row} />
