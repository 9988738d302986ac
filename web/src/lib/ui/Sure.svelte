<!-- Asks before something goes. -->
<script lang="ts">
  import { AlertDialog } from 'bits-ui';
  import Button from './Button.svelte';

  interface Props {
    /** What is asked; nothing where nobody has to be asked. */
    asks: string | undefined;
    /** What goes, and whether it can come back. */
    said: string;
    /** What is done then. */
    verb: string;
    onanswer: (sure: boolean) => void;
  }
  let { asks, said, verb, onanswer }: Props = $props();
</script>

<AlertDialog.Root open={asks !== undefined} onOpenChange={(open) => !open && onanswer(false)}>
  <AlertDialog.Portal>
    <AlertDialog.Overlay class="fixed inset-0 z-30 bg-black/40" />
    <AlertDialog.Content
      class="border-line bg-panel fixed top-1/2 left-1/2 z-30 w-96 -translate-x-1/2 -translate-y-1/2 rounded-md border p-5"
    >
      <AlertDialog.Title class="text-[15px] font-semibold">{asks}</AlertDialog.Title>
      <AlertDialog.Description class="text-second mt-2 first-letter:uppercase">{said}</AlertDialog.Description
      >
      <div class="mt-4 flex justify-end gap-2">
        <AlertDialog.Cancel>
          {#snippet child({ props })}<Button {...props}>Keep it</Button>{/snippet}
        </AlertDialog.Cancel>
        <Button kind="first" onclick={() => onanswer(true)}>{verb}</Button>
      </div>
    </AlertDialog.Content>
  </AlertDialog.Portal>
</AlertDialog.Root>
