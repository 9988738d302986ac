<!-- Asks for the sign-in again while what waits is kept. -->
<script lang="ts">
  import { api } from '$lib/api/client';
  import { Attempt } from '$lib/state/attempt.svelte';
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Credentials from '$lib/ui/Credentials.svelte';
  import { Dialog } from 'bits-ui';

  let { account }: { account: string } = $props();
  const { session } = desktop();
  const attempt = new Attempt();
  const open = $derived(session.trouble?.then === 'sign-in');
  let email = $state('');
  let password = $state('');

  function signIn(event: SubmitEvent) {
    event.preventDefault();
    void attempt.run(async () => {
      const me = await api.signIn({ email, password });
      password = '';
      // Another account sees its own sessions; what waits here stays kept for its owner.
      if (me.id !== account) return location.assign('/');
      session.resume();
    });
  }
</script>

<Dialog.Root {open}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 bg-black/40" />
    <Dialog.Content
      escapeKeydownBehavior="ignore"
      interactOutsideBehavior="ignore"
      class="border-line bg-panel fixed top-1/2 left-1/2 w-96 -translate-x-1/2 -translate-y-1/2 rounded-md border p-5"
    >
      <Dialog.Title class="text-[15px] font-semibold">Sign in again</Dialog.Title>
      <Dialog.Description class="text-second mt-1 mb-3">
        You are signed out. {session.unsaved === 1 ? '1 change is' : `${session.unsaved} changes are`} kept here
        and saved as soon as you are in.
      </Dialog.Description>
      <form class="grid gap-3" onsubmit={signIn}>
        <Credentials bind:email bind:password />
        {#if attempt.problem}<p role="alert" class="text-wrong">{attempt.problem}</p>{/if}
        <Button kind="first" type="submit" disabled={attempt.busy}>Sign in</Button>
      </form>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
