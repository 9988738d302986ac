<!-- Makes one value of all chosen rows what it is on the newest of them. -->
<script lang="ts">
  import type { StripChange } from '$lib/api/types';
  import { desktop } from '$stages/desktop';

  const { session, board } = desktop();
  const strips = $derived(board.strips);
  const like = $derived(board.current);
  const values = $derived.by((): { name: string; change: StripChange }[] => {
    if (!like) return [];
    const { trim_db, pan_percent, width_percent, fader_db } = like.strip;
    return [
      { name: 'trim', change: { what: 'trim_db', to: trim_db } },
      { name: 'pan', change: { what: 'pan_percent', to: pan_percent } },
      { name: 'width', change: { what: 'width_percent', to: width_percent } },
      { name: 'fader', change: { what: 'fader_db', to: fader_db } },
    ];
  });
</script>

{#if like && strips.length > 1}
  <p class="mb-2 flex flex-wrap items-center gap-x-3">
    <span class="text-second">{strips.length} rows move together. Make them equal to {like.name}:</span>
    {#each values as { name, change } (name)}
      <button
        class="underline"
        aria-label="Make the {name} of {strips.length} rows equal to {like.name}"
        onclick={() => session.apply({ kind: 'set_strips', strips, change })}>{name}</button
      >
    {/each}
  </p>
{/if}
