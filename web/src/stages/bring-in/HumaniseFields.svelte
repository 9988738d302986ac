<!-- Small variations of chosen voices within a pattern. -->
<script lang="ts">
  import type { Humanise, Part } from '$lib/api/types';
  import { range } from '$lib/limits';
  import { desktop } from '$stages/desktop';
  import { tried } from '$lib/state/tried';
  import Field from '$lib/ui/Field.svelte';

  /** The pattern, the voices, and what the first of them plays there. */
  let { pattern, ids, part }: { pattern: number; ids: number[]; part: Part | undefined } = $props();
  const { session } = desktop();

  const START: Humanise = { seed: 1, time_ms: 6, level_db: 1.5, tune_ct: 0 };
  const humanise = $derived(part?.humanise);
  const edit = (to: Partial<Humanise> | null) =>
    ({ kind: 'humanise', pattern, voices: ids, by: to && { ...(humanise ?? START), ...to } }) as const;

  const fields = [
    { of: 'time_ms', bound: 'humanise_ms', name: 'Time, ±', label: 'Humanised time', unit: 'ms', reset: 6 },
    {
      of: 'level_db',
      bound: 'humanise_db',
      name: 'Level, ±',
      label: 'Humanised level',
      unit: 'dB',
      reset: 1.5,
    },
    {
      of: 'tune_ct',
      bound: 'humanise_ct',
      name: 'Tune, ±',
      label: 'Humanised tuning',
      unit: 'ct',
      digits: 0,
    },
  ] as const;
</script>

<div class="grid content-start">
  <h3 class="text-second">Humanise</h3>
  {#if humanise}
    {#each fields as { of, bound, ...field } (of)}
      <Field
        {...field}
        {...range(bound)}
        value={humanise[of]}
        {...tried(session, (to) => edit({ [of]: to }))}
      />
    {/each}
    <p class="flex gap-3">
      <button class="underline" onclick={() => session.apply(edit({ seed: humanise.seed + 1 }))}
        >Roll again</button
      >
      <button class="underline" onclick={() => session.apply(edit(null))}>Straight again</button>
    </p>
  {:else}
    <button
      class="text-left underline disabled:no-underline"
      disabled={!part}
      onclick={() => session.apply(edit({}))}>Vary time and level a little</button
    >
  {/if}
</div>
