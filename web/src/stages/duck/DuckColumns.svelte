<!-- Heads of the columns of Duck: a key each, and one to add. -->
<script lang="ts">
  import { desktop } from '$lib/state/context';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import Glyph from '$lib/ui/Glyph.svelte';
  import { ADD_COLUMN, KEY_COLUMN, RECOVERY_COLUMN } from './columns';
  import { matrix } from './keys';
  import { GONE, keyState } from './matrix';

  const { session, board } = desktop();
  const keys = $derived(matrix(session, board));
  const kindOf = (id: number) => board.rows.find((r) => r.strip.id === id)?.kind;
  const nameOf = (id: number) => (id === GONE ? 'a lane that is gone' : session.nameOf(id));
  /** Everything that can be listened to; main feeds nothing. */
  const others = $derived(
    session.doc.strips
      .filter((s) => s.kind !== 'main' && !keys.includes(s.id))
      .map((s) => ({ value: s.id, text: session.nameOf(s.id) + (s.kind === 'trigger' ? ' (trigger)' : '') })),
  );
</script>

<div class="flex min-w-0 flex-1 items-center">
  {#each keys as id (id)}
    {@const state = keyState(session.doc, id)}
    {@const kind = kindOf(id)}
    <span
      class="{KEY_COLUMN} flex items-center gap-1 overflow-hidden px-2"
      title="Key: {nameOf(id)}{state ? `, ${state}` : ''}"
    >
      {#if kind}<Glyph {kind} />{/if}
      <span class="truncate {state === 'gone' ? 'text-look' : ''}">{nameOf(id)}</span>
      {#if state && state !== 'gone'}<span class="text-second truncate">{state}</span>{/if}
    </span>
  {/each}
  <span class="{ADD_COLUMN} pl-2">
    <ActionMenu
      text="Add a key"
      label="Add a key to duck by"
      items={others}
      onpick={(id) => (board.duckKeys = [...board.duckKeys, id])}
    />
  </span>
  <span class="ml-auto {RECOVERY_COLUMN}">Against the next hit</span>
</div>
