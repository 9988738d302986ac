<!-- The frame of everything that asks or shows something over the page. Escape and a press beside it put it away. -->
<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Snippet } from 'svelte';

  interface Props {
    open: boolean;
    title: string;
    /** Pixels. */
    width?: number;
    /** Says more of it, under the title. */
    said?: Snippet;
    /** Stays until it is answered. */
    stays?: boolean;
    children: Snippet;
  }
  let { open = $bindable(), title, width = 440, said, stays = false, children }: Props = $props();
  const outside = $derived(stays ? 'ignore' : 'close');
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-30 bg-black/40" />
    <Dialog.Content
      escapeKeydownBehavior={outside}
      interactOutsideBehavior={outside}
      style="width: {width}px"
      class="border-line bg-panel fixed top-1/2 left-1/2 z-30 flex max-h-[84vh] max-w-full -translate-x-1/2 -translate-y-1/2 flex-col rounded-md border p-5"
    >
      <Dialog.Title class="text-[15px] font-semibold {said ? '' : 'mb-3'}">{title}</Dialog.Title>
      {#if said}
        <Dialog.Description class="text-second mt-1 mb-3">{@render said()}</Dialog.Description>
      {/if}
      <!-- What is longer than the window is scrolled; the room around is for marks of focus. -->
      <div class="-m-1 flex min-h-0 flex-1 flex-col overflow-y-auto p-1">{@render children()}</div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
