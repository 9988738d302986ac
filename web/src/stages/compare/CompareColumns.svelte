<!-- Heads of the columns of Compare: how it is now, and how it was. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import { LETTERS } from './sides.svelte';
  import { NOW_COLUMN, TAKE_COLUMN, THEN_COLUMN } from './columns';

  const { versions, sides } = desktop();
  const letter = $derived(LETTERS[sides.all.findIndex((side) => side.key === versions.other?.id)]);
</script>

<div class="flex min-w-0 flex-1 items-center">
  <span class={NOW_COLUMN}
    >{#if versions.other}<b class="text-ink mr-2 font-semibold">A</b>{/if}Now</span
  >
  <span class="{THEN_COLUMN} truncate"
    >{#if versions.other}<b class="text-ink mr-2 font-semibold">{letter}</b>{versions.other.name}{/if}</span
  >
  <span class={TAKE_COLUMN}></span>
</div>
