<!-- What is heard of the sides, and the way to the next: the same switch in every stage. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import { LETTERS } from '$stages/compare/sides.svelte';

  const { sides, compare, paths, gauge } = desktop();
  const next = $derived(
    sides.others.length === 0
      ? 'Without processors'
      : `${LETTERS[(sides.at + 1) % sides.all.length]} ${sides.all[(sides.at + 1) % sides.all.length]?.name}`,
  );
  async function flip() {
    compare.end();
    paths.end();
    await sides.next();
  }
</script>

<button
  class="border-ink w-[104px] shrink-0 truncate rounded-md border px-2 py-[5px] text-center disabled:opacity-50 {sides.at >
  0
    ? 'bg-ink text-panel'
    : 'hover:bg-chosen'}"
  aria-label={sides.hidden ? 'Blind: heard without a name' : `${sides.name} is heard; next ${next}`}
  title={sides.hidden ? undefined : `${sides.name} is heard. Press for ${next}, as loud (X)`}
  disabled={sides.hidden || (gauge.part !== undefined && !sides.measured)}
  data-testid="side"
  onclick={() => void flip()}>{sides.hidden ? 'Blind' : sides.name}</button
>
