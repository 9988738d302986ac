<!-- Asks for the sign-in again while what waits is kept. -->
<script lang="ts">
  import Frame from '$lib/ui/Frame.svelte';
  import { api } from '$lib/api/client';
  import { Attempt } from '$lib/state/attempt.svelte';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import Credentials from '$lib/ui/Credentials.svelte';

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

<Frame {open} title="Sign in again" width={384} stays>
  {#snippet said()}You are signed out. {session.whereabouts}{/snippet}

  <form class="grid gap-3" onsubmit={signIn}>
    <Credentials bind:email bind:password />
    {#if attempt.problem}<p role="alert" class="text-wrong">{attempt.problem}</p>{/if}
    <Button kind="first" type="submit" disabled={attempt.busy}>Sign in</Button>
  </form>
</Frame>
