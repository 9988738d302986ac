<!-- The chosen row's chain, and the chosen processor: its picture, its values, its key, and how it sounds without. -->
<script lang="ts">
  import { setSettings } from '$lib/state/edits';
  import type { Settings } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import KeyFields from '$stages/ui/KeyFields.svelte';
  import ChainList from './ChainList.svelte';
  import ProcessorFields from './ProcessorFields.svelte';
  import ProcessorHead from './ProcessorHead.svelte';
  import ProcessorPictures from './ProcessorPictures.svelte';
  import EqualiserBench from './equaliser/EqualiserBench.svelte';
  import { hasPictures } from './pictures';

  const { session, player, board } = desktop();
  const row = $derived(board.current);
  const strip = $derived(row?.strip);
  const color = $derived(row ? `var(--${row.kind === 'main' ? 'ink' : row.kind})` : 'var(--ink)');
  const name = $derived(strip ? session.nameOf(strip.id) : '');
  const chain = $derived(strip?.chain ?? []);
  const current = $derived(chain.find((p) => p.id === board.processor) ?? chain[0]);
  const kind = $derived(session.desk.kinds.find((k) => k.default.kind === current?.settings.kind));
  const of = $derived(`the ${kind?.name.toLowerCase() ?? 'processor'} of ${name}`);
  const set = $derived((to: Settings) =>
    setSettings(session.settledDoc, strip?.id ?? 0, current?.id ?? 0, to),
  );

  // What stands in the bench is watched: its sound before and behind.
  $effect(() => {
    player.watch(strip?.id ?? 0, current?.id ?? 0);
    return () => player.watch(0, 0);
  });
  const listens = $derived(
    kind?.takes_key &&
      (current?.settings.kind !== 'equaliser' ||
        current.key !== null ||
        current.settings.bands.some((b) => b.range_db !== 0)),
  );
</script>

{#if strip}
  {#snippet values()}
    {#if strip && current && kind}
      <ProcessorFields {strip} processor={current} {kind} {of} />
      {#if listens}
        <h2 class="mt-3 mb-1 font-semibold">What it listens to</h2>
        <div class="max-w-72"><KeyFields {strip} processor={current} /></div>
      {/if}
    {/if}
  {/snippet}
  <div class="grid h-full grid-cols-[200px_minmax(0,1fr)] gap-6">
    <ChainList {strip} {name} {current} />
    {#if current && kind}
      <div class="@container flex min-h-0 flex-col overflow-auto">
        <ProcessorHead {strip} processor={current} {kind} />
        <div class="flex min-h-0 flex-1 flex-col gap-x-6 gap-y-2 @2xl:flex-row">
          {#if kind.bands && current.settings.kind === 'equaliser'}
            <EqualiserBench
              settings={current.settings}
              mix={current.mix_percent}
              info={kind.bands}
              {strip}
              {color}
              ontry={(to) => session.try(set(to))}
              onset={(to) => session.apply(set(to))}
              oncancel={() => session.cancelLive()}
            >
              {@render values()}
            </EqualiserBench>
          {:else}
            {#if hasPictures(kind)}
              <div class="flex min-h-0 min-w-0 flex-[3] gap-4">
                <ProcessorPictures {strip} processor={current} {kind} {color} {of} />
              </div>
            {/if}
            <div class="min-h-0 min-w-[200px] flex-[2] overflow-auto">{@render values()}</div>
          {/if}
        </div>
      </div>
    {/if}
  </div>
{/if}
