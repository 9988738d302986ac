<script lang="ts">
  import type { Stage } from '$lib/state/stage';
  import { STAGES } from '../stages/registry';
  import { desktop } from '$stages/desktop';
  import type { TrackOut } from '$stages/track-out/track-out.svelte';
  import { untrack } from 'svelte';

  const { session, board, trackOut } = desktop();

  /** What tracking out would give is worked out once the document is calm: it costs more than an edit. */
  const CALM_MS = 300;
  let preview = $state.raw<TrackOut['preview']>();
  $effect(() => {
    void session.settledDoc;
    const timer = setTimeout(() => (preview = untrack(() => trackOut.preview)), CALM_MS);
    return () => clearTimeout(timer);
  });

  /** More of them than anybody counts. */
  const MOST = 99;
  /** Things worth a look, by stage. */
  const looks = $derived.by((): Partial<Record<Stage, number>> => {
    const silent = board.doc.voices.filter((v) => v.source.kind === 'empty').length;
    return {
      'bring-in': silent,
      route: board.checks.filter((c) => !c.dismissed).length,
      'track-out': !preview ? 0 : 'error' in preview ? 1 : preview.warnings.length,
    };
  });
</script>

<nav aria-label="Stages" class="bg-ground border-line flex flex-col border-r pt-3">
  {#each STAGES as stage (stage.id)}
    {@const here = board.stage === stage.id}
    {@const count = looks[stage.id] ?? 0}
    <button
      class="relative border-l-4 py-2 pl-3 text-left {here
        ? 'border-ink bg-panel font-semibold'
        : 'text-second hover:bg-chosen border-transparent'}"
      aria-current={here ? 'page' : undefined}
      onclick={() => (board.stage = stage.id)}
    >
      <span class="text-second block text-[10px] font-normal">{stage.key}</span>
      {stage.name}
      {#if count > 0}
        <span
          class="border-look text-look absolute top-2 right-2 grid h-[18px] min-w-[18px] place-items-center rounded-full border px-[3px] text-[10px] font-normal"
          >{count > MOST ? `${MOST}+` : count}<span class="sr-only"> worth a look</span></span
        >
      {/if}
    </button>
  {/each}
</nav>
