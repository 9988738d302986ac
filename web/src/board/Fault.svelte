<!-- The page came to grief: it says so, and starts anew. -->
<script lang="ts">
  import { AlertDialog } from 'bits-ui';
  import Button from '$lib/ui/Button.svelte';

  /** What was thrown; nothing as long as all is well. */
  let { what }: { what: string | undefined } = $props();
</script>

<AlertDialog.Root open={what !== undefined}>
  <AlertDialog.Portal>
    <AlertDialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
    <AlertDialog.Content
      class="border-line bg-panel fixed top-1/2 left-1/2 z-40 w-[420px] -translate-x-1/2 -translate-y-1/2 rounded-md border p-5"
      escapeKeydownBehavior="ignore"
    >
      <AlertDialog.Title class="text-[15px] font-semibold">This page came to grief</AlertDialog.Title>
      <AlertDialog.Description class="text-second mt-2">
        What it does from here on cannot be trusted, so it starts anew. Changes that wait for the server are
        kept in this browser and sent then. For whoever helps: {what}
      </AlertDialog.Description>
      <div class="mt-4 flex justify-end">
        <Button kind="first" onclick={() => location.reload()}>Start anew</Button>
      </div>
    </AlertDialog.Content>
  </AlertDialog.Portal>
</AlertDialog.Root>
