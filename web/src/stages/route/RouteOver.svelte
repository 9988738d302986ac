<script lang="ts">
  import { desktop } from '$lib/state/context';
  import Ribbons from './Ribbons.svelte';

  const { board } = desktop();
</script>

{#if !board.routeTable}<Ribbons />{/if}
