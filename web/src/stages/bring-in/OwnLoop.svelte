<!-- A loop of their own for chosen voices within a pattern. -->
<script lang="ts">
  import type { Part } from '$lib/api/types';
  import { range } from '$lib/limits';
  import { desktop } from '$stages/desktop';
  import Field from '$lib/ui/Field.svelte';

  /** The pattern, the voices, and what the first of them plays there. */
  let { pattern, ids, part }: { pattern: number; ids: number[]; part: Part | undefined } = $props();
  const { session, board } = desktop();
  const set = (ticks: number | null) => session.apply({ kind: 'set_loop', pattern, voices: ids, ticks });
</script>

<div class="grid content-start">
  <h3 class="text-second">Loop of its own</h3>
  {#if part?.loop_ticks !== undefined}
    <Field
      name="Steps"
      label="Length of the loop in steps"
      value={part.loop_ticks / board.stepTicks}
      min={1}
      max={Math.floor(range('loop_ticks').max / board.stepTicks)}
      unit="steps"
      behind=""
      digits={0}
      reset={16}
      oncommit={(steps) => set(Math.round(steps) * board.stepTicks)}
    />
    <button class="text-left underline" onclick={() => set(null)}>As long as the pattern</button>
  {:else}
    <button
      class="text-left underline disabled:no-underline"
      disabled={!part}
      onclick={() => set(board.time.bar_ticks)}>One bar, to be changed</button
    >
  {/if}
</div>
