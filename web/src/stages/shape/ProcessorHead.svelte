<!-- What the processor is, what it takes away, and how the row sounds without it. -->
<script lang="ts">
  import { setProcessor } from '$lib/state/edits';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import type { KindInfo, Processor, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import GaugeBar from '$stages/ui/GaugeBar.svelte';
  import Without from '$stages/ui/Without.svelte';

  let { strip, processor, kind }: { strip: Strip; processor: Processor; kind: KindInfo } = $props();
  import { asKind } from './values';
  const { player, session } = desktop();
  /** The most that the meter shows, in dB. */
  const DEPTH = 24;
  const SCALE = [0, 6, 12, 18, 24];
  const [reduction, most] = $derived.by(() => {
    void player.meters.tick;
    const { reduction, deepest } = player.meters.processor(processor.id);
    return [reduction, deepest];
  });

  const figure = (db: number) => (db > 0.05 ? `-${db.toFixed(1)}` : '0.0');
  const place = (db: number) => Math.min(100, (db / DEPTH) * 100);

  const others = $derived(session.desk.kinds.filter((k) => k.name !== kind.name));
  /** Another kind in its place; key, gains and what means the same stay. */
  function become(name: string) {
    const to = others.find((k) => k.name === name);
    if (!to) return;
    session.apply(
      setProcessor(strip.id, processor.id, { what: 'settings', to: asKind(to, processor.settings, kind) }),
    );
  }
</script>

<div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
  <h2 class="font-semibold">{kind.name}</h2>
  <ActionMenu
    text="Another kind"
    label="Another kind instead of {kind.name}"
    items={others.map((k) => ({ value: k.name, text: k.name }))}
    onpick={become}
  />
  {#if kind.reduces}
    <span
      class="bg-faint relative mb-2 h-2 w-40"
      role="meter"
      aria-label="Reduction"
      aria-valuemin={0}
      aria-valuemax={DEPTH}
      aria-valuenow={reduction}
      aria-valuetext="{reduction.toFixed(1)} dB"
    >
      <span class="bg-look absolute inset-y-0 right-0" style:width="{place(reduction)}%"></span>
      {#if most > 0.05}
        <span class="bg-ink absolute -inset-y-[2px] w-[2px]" style:right="{place(most)}%"></span>
      {/if}
      {#each SCALE as db (db)}
        <span class="text-second absolute top-full text-[10px] leading-3" style:right="{place(db)}%"
          ><span class="absolute right-0 translate-x-1/2">{db}</span></span
        >
      {/each}
    </span>
    <span
      class="figures text-second w-40 whitespace-nowrap"
      title="Now, and the most since peaks were cleared (C)">{figure(reduction)}, most {figure(most)} dB</span
    >
  {/if}
  <Without {strip} {processor} />
  <Without {strip} />
  <GaugeBar />
</div>
