<!-- What undo or redo did, or what was done beside what was asked, for a moment. It stays in the page, so that screen readers hear it change. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';

  const { session } = desktop();
  const SHOWN_MS = 4000;
  let over = $state(0);
  $effect(() => {
    const walked = session.walked;
    if (!walked) return;
    const timer = setTimeout(() => (over = walked.at), SHOWN_MS);
    return () => clearTimeout(timer);
  });
  const sentence = $derived(session.walked && session.walked.at !== over ? session.walked.sentence : '');
</script>

<p
  role="status"
  data-testid="walked"
  class="bg-ink text-panel pointer-events-none absolute top-full right-0 z-20 mt-1 w-max max-w-[620px] truncate rounded-sm px-2 py-1 {sentence
    ? ''
    : 'opacity-0'}"
>
  {sentence}
</p>
