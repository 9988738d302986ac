<!-- What undo or redo did, or what was done beside what was asked, for a moment. It stays in the page, so that screen readers hear it change. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';

  const { session } = desktop();
  const SHOWN_MS = 4000;
  /** What can be undone there stays long enough to be read and pressed. */
  const UNDONE_MS = 12_000;
  let over = $state(0);
  $effect(() => {
    const walked = session.walked;
    if (!walked) return;
    const timer = setTimeout(() => (over = walked.at), walked.undo === undefined ? SHOWN_MS : UNDONE_MS);
    return () => clearTimeout(timer);
  });
  const shown = $derived(session.walked && session.walked.at !== over ? session.walked : undefined);
  /** As long as it is the newest step. */
  const undone = $derived(shown?.undo !== undefined && shown.undo === session.undoLabel);
</script>

<div
  class="bg-ink text-panel absolute top-full right-0 z-20 mt-1 flex w-max max-w-[620px] items-baseline gap-3 rounded-sm px-2 py-1 {shown
    ? ''
    : 'opacity-0'} {undone ? '' : 'pointer-events-none'}"
>
  <p role="status" data-testid="walked" class={undone ? 'line-clamp-4' : 'truncate'}>
    {shown?.sentence ?? ''}
  </p>
  {#if undone}<button class="underline" onclick={session.undo}>Undo</button>{/if}
</div>
