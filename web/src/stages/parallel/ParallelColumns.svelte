<!-- Heads of the columns of Parallel: a return each with how it lies, and new paths. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import { alignmentSaid, alignmentShort } from './path-words';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import Glyph from '$lib/ui/Glyph.svelte';
  import { NEW_COLUMN, SEND_COLUMN } from './columns';

  const { session, board, paths } = desktop();
  const tones = { good: 'text-good', look: 'text-look', second: 'text-second' };
  /** Rows that can feed a path: all that are chosen but triggers and main. */
  const feeders = $derived([
    ...new Set(
      board.chosen.filter((r) => r.kind !== 'main' && r.strip.kind !== 'trigger').map((r) => r.strip.id),
    ),
  ]);
  const who = $derived(
    feeders.length === 1 ? session.nameOf(feeders[0] ?? null) : `${feeders.length} chosen rows`,
  );
  const chains = session.desk.chainsFor('path');
  function make(name: string) {
    const chain = chains.find((c) => c.name === name);
    if (!chain) return;
    const known = new Set(session.doc.strips.map((s) => s.id));
    if (!session.apply({ kind: 'new_path', name, feeders, processors: chain.processors })) return;
    const made = board.rows.find((r) => r.strip.kind === 'return' && !known.has(r.strip.id));
    if (made) board.selected = [made.key];
  }
  const choose = (strip: number) => {
    const row = board.rows.find((r) => r.strip.id === strip);
    if (row) board.selected = [row.key];
  };
</script>

<div class="flex min-w-0 flex-1 items-center">
  {#each paths.returns as id (id)}
    {@const lies = paths.of(id)}
    {@const said = lies && alignmentShort(lies)}
    <button
      class="{SEND_COLUMN} hover:bg-chosen flex items-center gap-1 overflow-hidden px-2 text-left {board
        .current?.strip.id === id
        ? 'bg-chosen'
        : ''}"
      title="{session.nameOf(id)}{lies ? `: ${alignmentSaid(lies).text}` : ''}. Press to see it below"
      onclick={() => choose(id)}
    >
      <Glyph kind="return" />
      <span class="truncate">{session.nameOf(id)}</span>
      {#if said}
        <span class="truncate {paths.fresh ? tones[said.tone] : 'text-second'}" data-testid="lies-{id}"
          >{said.text}</span
        >
      {/if}
    </button>
  {/each}
  <span class="{NEW_COLUMN} pl-2">
    <ActionMenu
      text="New path"
      label="New path from {who}"
      disabled={feeders.length === 0}
      items={chains.map((c) => ({ value: c.name, text: c.text }))}
      onpick={make}
    />
  </span>
</div>
