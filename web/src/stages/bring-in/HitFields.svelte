<!-- The hit under the cursor, value by value. -->
<script lang="ts">
  import type { Hit } from '$lib/api/types';
  import { range } from '$lib/limits';
  import { desktop } from '$stages/desktop';
  import { tried } from '$lib/state/tried';
  import Field from '$lib/ui/Field.svelte';
  import { changeHit, clearHit, hitAt } from './hits';

  /** Voices that can be changed. */
  let { ids }: { ids: number[] } = $props();
  const { session, board } = desktop();
  const { bar_ticks: bar, beat_ticks: beat } = $derived(board.time);

  const spot = $derived(board.cursor && ids.includes(board.cursor.voice) ? board.cursor : undefined);
  const list = $derived(
    session.doc.parts.find((p) => p.pattern === spot?.pattern && p.voice === spot?.voice)?.hits ?? [],
  );
  const hit = $derived(spot && hitAt(list, spot.at, board.stepTicks));

  const fields = [
    {
      of: 'velocity',
      bound: 'velocity',
      name: 'Velocity',
      label: 'Velocity of the hit',
      unit: '',
      reset: 100,
    },
    {
      of: 'shift_ticks',
      bound: 'shift_ticks',
      name: 'Later by',
      label: 'Shift of the hit',
      unit: 'ticks',
      behind: 'tk',
    },
    { of: 'repeats', bound: 'repeats', name: 'Repeats', label: 'Repeats of the hit', unit: '', reset: 1 },
    { of: 'slope', bound: 'slope', name: 'Slope', label: 'Velocity change of each repeat', unit: '' },
    { of: 'tune_st', bound: 'hit_tune_st', name: 'Tune', label: 'Tuning of the hit', unit: 'st' },
  ] as const;
  const rest: Partial<Hit> = { repeats: 1 };
  function remove() {
    if (!spot) return;
    const hits = clearHit(list, spot.at, board.stepTicks);
    session.apply({ kind: 'set_hits', pattern: spot.pattern, voice: spot.voice, hits });
  }
  const edit = (of: keyof Hit) => (to: number) =>
    spot && {
      kind: 'set_hits' as const,
      pattern: spot.pattern,
      voice: spot.voice,
      hits: changeHit(list, spot.at, board.stepTicks, { [of]: Math.round(to) }),
    };
</script>

<div class="grid content-start">
  {#if hit}
    <h3 class="text-second">
      Hit at {Math.floor(hit.at_ticks / bar) + 1}.{Math.floor((hit.at_ticks % bar) / beat) + 1}
    </h3>
    {#each fields as { of, bound, ...field } (of)}
      <Field
        {...field}
        {...range(bound)}
        value={hit[of] ?? rest[of] ?? 0}
        digits={0}
        {...tried(session, edit(of))}
      />
    {/each}
    <button class="text-left underline" onclick={remove}>Remove the hit</button>
  {:else}
    <p class="text-second">
      Click a hit to change it here, Delete removes it. Alt and drag moves it off the grid.
    </p>
  {/if}
</div>
