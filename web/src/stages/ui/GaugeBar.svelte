<!-- How far a measuring run is; or why it failed. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import Progress from '$lib/ui/Progress.svelte';

  const { gauge } = desktop();
</script>

{#if gauge.part !== undefined}
  <Progress doing={gauge.doing} part={gauge.part} oncancel={() => gauge.cancel()} />
{:else if gauge.problem}
  <p role="alert" class="text-wrong">{gauge.problem}</p>
{/if}
