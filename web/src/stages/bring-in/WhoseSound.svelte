<!-- Notes come together whose lanes had sounds of their own: which one plays them all is asked, never decided unseen. -->
<script lang="ts">
  import Leave from '$lib/ui/Leave.svelte';
  import Frame from '$lib/ui/Frame.svelte';
  import type { Joining } from './incoming/joining';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';

  interface Props {
    asked: Joining[] | undefined;
    /** For each the lane whose sound was chosen, or nothing for the one that would play; nothing at all to leave it. */
    onanswer: (chosen: (number | undefined)[] | undefined) => void;
  }
  let { asked, onanswer }: Props = $props();
  let chosen = $state<Record<number, number>>({});
  const STAYS = 0;
  const answer = () => {
    const all = asked?.map((_, n) => chosen[n] || undefined);
    chosen = {};
    onanswer(all);
  };
</script>

<Frame
  bind:open={() => asked !== undefined, (open) => !open && onanswer(undefined)}
  title="Whose sound plays"
  width={480}
>
  {#snippet said()}These notes had sounds of their own. Together they play one; the lanes of the others go.{/snippet}

  <div class="min-h-0 flex-1 overflow-y-auto">
    {#each asked ?? [] as { name, lost }, n (n)}
      <div class="border-faint flex items-center gap-3 border-b py-1">
        <span class="min-w-0 flex-1 truncate">{name}</span>
        <Picker
          label="Sound of {name}"
          class="w-60"
          value={chosen[n] ?? STAYS}
          options={[
            { value: STAYS, text: `the sound of ${name}` },
            ...lost.map((v) => ({ value: v.id, text: `the sound of ${v.name}` })),
          ]}
          onpick={(id) => (chosen[n] = id)}
        />
      </div>
    {/each}
  </div>
  <div class="mt-4 flex justify-end gap-2">
    <Leave>Leave as it is</Leave>
    <Button kind="first" onclick={answer}>Put together</Button>
  </div>
</Frame>
