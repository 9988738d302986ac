<script lang="ts">
  import { api } from '$lib/api/client';
  import type { DemoAccount, Me } from '$lib/api/types';
  import Button from '$lib/ui/Button.svelte';
  import Credentials from '$lib/ui/Credentials.svelte';

  let { onsignedin }: { onsignedin: (me: Me) => void } = $props();
  let email = $state('');
  let password = $state('');
  let fresh = $state(false);
  let problem = $state('');
  let busy = $state(false);
  let demo = $state<DemoAccount>();

  // A server without a demo account says 404, which is no fault.
  api.demoAccount().then(
    (account) => (demo = account),
    () => undefined,
  );

  async function enter(how: () => Promise<Me>) {
    [busy, problem] = [true, ''];
    try {
      onsignedin(await how());
    } catch (error) {
      problem = (error as Error).message;
    }
    busy = false;
  }
  function submit(event: SubmitEvent) {
    event.preventDefault();
    void enter(() => (fresh ? api.signUp : api.signIn)({ email, password }));
  }
</script>

<main class="grid h-full place-items-center">
  <div class="grid w-[760px] max-w-full grid-cols-[1fr_320px] gap-12 p-6">
    <div>
      <svg viewBox="0 0 360 150" class="mb-6 w-full" aria-hidden="true">
        {#each [['low', 14, 40], ['snare', 44, 58], ['hats', 74, 76], ['percussion', 104, 92], ['bass', 134, 110]] as [family, from, to] (family)}
          <path
            d="M0 {from} H110 C170 {from} 170 {to} 230 {to}"
            fill="none"
            stroke="var(--{family})"
            stroke-width="13"
          />
        {/each}
        <rect
          x="230"
          y="28"
          width="46"
          height="92"
          rx="4"
          fill="var(--raised)"
          stroke="var(--ink)"
          stroke-width="2"
        />
        <path d="M276 74 H360" stroke="var(--ink)" stroke-width="26" />
      </svg>
      <h1 class="text-2xl font-semibold">Zealous Lane</h1>
      <p class="text-second mt-2 max-w-sm text-[15px]">
        Every drum voice on its own channel and bus. Levels you can trust. Stems that add up.
      </p>
    </div>
    <form class="flex flex-col gap-3" onsubmit={submit}>
      {#if demo}
        {@const account = demo}
        <Button kind="first" disabled={busy} onclick={() => enter(() => api.signIn(account))}
          >Open the demo</Button
        >
        <p class="text-second text-center">or with your own account</p>
      {/if}
      <Credentials bind:email bind:password {fresh} />
      {#if problem}<p role="alert" class="text-wrong">{problem}</p>{/if}
      <Button type="submit" disabled={busy}>{fresh ? 'Sign up' : 'Sign in'}</Button>
      <Button kind="text" onclick={() => (fresh = !fresh)}>
        {fresh ? 'I have an account' : 'Make an account'}
      </Button>
    </form>
  </div>
</main>
