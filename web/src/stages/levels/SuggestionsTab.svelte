<!-- What lanes might gain from, each to be done or refused. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import type { LevelsReading } from '$lib/state/gauge.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { reading }: { reading: LevelsReading } = $props();
  const { session, board } = desktop();
  const refused = $derived(new Set(session.doc.dismissed));
  const all = $derived(reading.found.suggestions);
  const open = $derived(all.filter((s) => !refused.has(s.key)));
  let shown = $state(false);
  const list = $derived(shown ? all : open);
  /** Done in this reading; a new run says whether it helped. */
  let done = $state.raw<{ of: LevelsReading; keys: string[] }>();
  const isDone = (key: string) => done?.of === reading && done.keys.includes(key);
  function carryOut(suggestion: (typeof all)[number]) {
    if (!suggestion.repair || !session.apply(suggestion.repair.edit)) return;
    done = { of: reading, keys: [...(done?.of === reading ? done.keys : []), suggestion.key] };
    board.selected = [board.rows.find((r) => r.strip.id === suggestion.strip)?.key ?? ''];
  }
</script>

<ul class="grid max-w-4xl gap-[2px]" aria-label="Suggestions">
  {#each list as suggestion (suggestion.key)}
    <li class="flex items-center gap-3">
      <span class="min-w-0 flex-1 {refused.has(suggestion.key) ? 'text-second line-through' : ''}"
        >{suggestion.sentence}</span
      >
      {#if isDone(suggestion.key)}
        <span class="text-second">done</span>
      {:else}
        {#if suggestion.repair}
          <Button onclick={() => carryOut(suggestion)}>{suggestion.repair.name}</Button>
        {/if}
        <Button
          kind="text"
          onclick={() =>
            session.apply({
              kind: 'dismiss_check',
              key: suggestion.key,
              dismissed: !refused.has(suggestion.key),
            })}>{refused.has(suggestion.key) ? 'Show again' : 'Refuse'}</Button
        >
      {/if}
    </li>
  {:else}
    <li class="text-second py-4">Nothing to suggest for this loop.</li>
  {/each}
</ul>
{#if all.length > open.length}
  <button class="text-second mt-2 underline" onclick={() => (shown = !shown)}
    >{shown ? 'Hide' : 'Show'} {all.length - open.length} refused</button
  >
{/if}
