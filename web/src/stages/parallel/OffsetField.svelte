<!-- By how many samples a strip is played later, or earlier where all else waits for it. -->
<script lang="ts">
  import type { Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { range } from '$lib/limits';
  import Field from '$lib/ui/Field.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';

  let { strip, bare = false }: { strip: Strip; bare?: boolean } = $props();
  const { session } = desktop();
  const field = $derived({
    label: `Offset of ${session.nameOf(strip.id)}`,
    value: strip.offset_frames,
    ...range('offset_frames'),
    digits: 0,
    unit: 'samples',
    oncommit: (frames: number) =>
      session.apply({
        kind: 'set_strips',
        strips: [strip.id],
        change: { what: 'offset_frames', to: Math.round(frames) },
      }),
  });
</script>

{#if bare}
  <span class="inline-flex"><ValueField {...field} /></span>
{:else}
  <div class="w-[170px]"><Field name="Offset" behind="sam." {...field} /></div>
{/if}
