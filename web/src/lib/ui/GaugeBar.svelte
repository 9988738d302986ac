<!-- How far a measuring run is, with a way to call it off; or why it ended. -->
<script lang="ts">
  import { desktop } from '$lib/state/context';
  import Button from './Button.svelte';

  const { gauge } = desktop();
</script>

{#if gauge.part !== undefined}
  <div class="flex items-center gap-3" role="status">
    <span class="text-second">{gauge.doing}</span>
    <div
      class="bg-faint h-2 w-32"
      role="progressbar"
      aria-label={gauge.doing}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(gauge.part * 100)}
    >
      <div class="bg-ink h-2" style:width="{gauge.part * 100}%"></div>
    </div>
    <span class="figures">{Math.round(gauge.part * 100)} %</span>
    <Button kind="text" onclick={() => gauge.cancel()}>Cancel</Button>
  </div>
{:else if gauge.problem}
  <p role="alert" class="text-wrong">{gauge.problem}</p>
{/if}
