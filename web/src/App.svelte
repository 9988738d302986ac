<!-- Who is signed in, and which page the address names. -->
<script lang="ts">
  import { api, ApiError } from '$lib/api/client';
  import type { Me } from '$lib/api/types';
  import { Faults } from '$lib/state/faults.svelte';
  import { place } from '$lib/state/place.svelte';
  import Fault from './board/Fault.svelte';
  import SessionPage from './pages/SessionPage.svelte';
  import SessionsPage from './pages/SessionsPage.svelte';
  import SignInPage from './pages/SignInPage.svelte';

  const faults = new Faults();
  $effect(() => faults.watch());

  let me = $state<Me>();
  let asked = $state(false);
  let problem = $state('');

  async function ask() {
    problem = '';
    try {
      me = await api.me();
    } catch (error) {
      if (!(error instanceof ApiError && error.status === 401)) problem = String((error as Error).message);
    }
    asked = true;
  }
  void ask();

  async function signOut() {
    await api.signOut();
    me = undefined;
    place.go('/');
  }
</script>

{#if problem}
  <main class="grid h-full place-items-center">
    <p role="alert">{problem} <button class="underline" onclick={ask}>Try again</button></p>
  </main>
{:else if !asked}
  <main class="text-second grid h-full place-items-center" aria-busy="true">Opening …</main>
{:else if !me}
  <SignInPage onsignedin={(who) => (me = who)} />
{:else if place.sessionId}
  {#key place.sessionId}
    <SessionPage id={place.sessionId} account={me.id} />
  {/key}
{:else}
  <SessionsPage {me} onsignout={signOut} />
{/if}
<Fault what={faults.first} />
