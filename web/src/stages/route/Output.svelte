<!-- Where a row goes, changed in place. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import ChoiceCell from '$lib/ui/ChoiceCell.svelte';

  let { row }: { row: Row } = $props();
  const { session, board } = desktop();
  const options = $derived([
    ...session.doc.strips
      .filter((s) => (s.kind === 'bus' || s.kind === 'main') && s.id !== row.strip.id)
      .map((s) => ({ value: s.id, text: s.name as string })),
    { value: -1, text: 'Nothing' },
  ]);

  /** Chosen rows go there together, but those that cannot. */
  function send(to: number) {
    const able = (id: number) => id !== to && session.doc.strips.some((s) => s.id === id && takes(s.kind));
    const strips = board.together(row.strip.id).filter(able);
    session.apply({ kind: 'set_output', strips, output: to < 0 ? null : to });
  }
  const takes = (kind: string) => kind !== 'main' && kind !== 'trigger';
</script>

<div class="flex w-[130px] shrink-0 items-center pl-2">
  {#if row.strip.kind === 'trigger'}
    <span class="text-second pl-1" title="Never heard; it only feeds keys">trigger</span>
  {:else if row.kind !== 'main'}
    <ChoiceCell
      label="{row.name} goes to"
      value={row.strip.output ?? -1}
      {options}
      class="w-[120px]"
      title="Where it goes; chosen rows go there together"
      onpick={send}
    />
  {/if}
</div>
