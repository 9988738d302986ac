<!-- One action that brings main to the target of the sum. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import type { LevelsReading } from '$lib/state/gauge.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { reading }: { reading: LevelsReading } = $props();
  const { session, gauge } = desktop();
  const repair = $derived(reading.found.sum_repair);
</script>

{#if repair}
  <Button
    disabled={!gauge.fresh}
    title={gauge.fresh ? undefined : 'Something changed since; measure again'}
    onclick={() => session.apply(repair.edit)}>{repair.name}</Button
  >
{/if}
