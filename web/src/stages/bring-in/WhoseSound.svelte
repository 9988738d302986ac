<!-- Notes come together whose lanes had sounds of their own: which one plays them all is asked, never decided unseen. -->
<script lang="ts">
  import type { Joining } from '$lib/bring/joining';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { Dialog } from 'bits-ui';

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

<Dialog.Root bind:open={() => asked !== undefined, (open) => !open && onanswer(undefined)}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-30 bg-black/40" />
    <Dialog.Content
      class="border-line bg-panel fixed top-1/2 left-1/2 z-30 flex max-h-[80vh] w-[480px] -translate-x-1/2 -translate-y-1/2 flex-col rounded-md border p-5"
    >
      <Dialog.Title class="text-[15px] font-semibold">Whose sound plays</Dialog.Title>
      <Dialog.Description class="text-second mb-3">
        These notes had sounds of their own. Together they play one; the lanes of the others go.
      </Dialog.Description>
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
        <Dialog.Close class="border-ink rounded-md border px-3 py-[5px]">Leave as it is</Dialog.Close>
        <Button kind="first" onclick={answer}>Put together</Button>
      </div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
