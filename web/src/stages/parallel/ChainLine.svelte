<!-- The chain of a strip in one line: what stands in it, switched by a press, and the way to Shape. -->
<script lang="ts">
  import { setProcessor } from '$lib/state/edits';
  import type { Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';

  let { strip }: { strip: Strip } = $props();
  const { session, board } = desktop();
  const name = $derived(session.nameOf(strip.id));
  const left = $derived(strip.kind === 'main' && !session.doc.stem_plan.with_limiter);
  function show(processor?: number) {
    board.processor = processor;
    board.stage = 'shape';
  }
</script>

<span class="flex flex-wrap items-center gap-1" role="group" aria-label="Chain of {name}">
  {#each strip.chain as processor (processor.id)}
    <button
      class="border-line rounded-sm border px-1.5 {processor.on ? '' : 'text-second line-through'}"
      aria-pressed={processor.on}
      aria-label="{session.desk.nameOf(processor)} of {name}"
      title="{processor.on ? 'On' : 'Off'}: press for the other{left && processor.settings.kind === 'limiter'
        ? '. Not in stems'
        : ''}"
      onclick={() => session.apply(setProcessor(strip.id, processor.id, { what: 'on', to: !processor.on }))}
      >{session.desk.nameOf(processor)}{#if left && processor.settings.kind === 'limiter'}<span
          class="text-look"
        >
          not in stems</span
        >{/if}</button
    >
  {:else}
    <span class="text-second">no processor</span>
  {/each}
  <button class="underline" onclick={() => show(strip.chain[0]?.id)}>Show in Shape</button>
</span>
