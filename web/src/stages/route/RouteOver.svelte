<script lang="ts">
  import { desktop } from '$stages/desktop';
  import Ribbons from './Ribbons.svelte';

  const { board } = desktop();
</script>

{#if !board.routeTable}<Ribbons />{/if}
