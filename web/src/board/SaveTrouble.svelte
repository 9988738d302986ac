<!-- Why changes are not saved yet, and what can be done. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';

  const { session } = desktop();
  const trouble = $derived(session.trouble?.then === 'sign-in' ? undefined : session.trouble);
</script>

{#if trouble}
  <div class="border-line bg-panel flex items-center gap-3 rounded-md border px-3 py-1.5">
    <p role="status">
      {trouble.sentence}
      {session.whereabouts}{trouble.then === 'again' ? ' It is tried again by itself.' : ''}
    </p>
    <button class="whitespace-nowrap underline" onclick={session.resume}>
      {trouble.then === 'again' ? 'Try now' : 'Try again'}
    </button>
    {#if trouble.then === 'ask'}
      <button class="whitespace-nowrap underline" onclick={session.leaveOut}>Leave it out</button>
    {/if}
  </div>
{/if}
