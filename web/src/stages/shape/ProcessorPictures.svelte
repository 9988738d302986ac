<!-- What can be seen of a processor: its curve, a hit before and behind it, what it took away. -->
<script lang="ts">
  import type { KindInfo, Processor, Strip } from '$lib/api/types';
  import { dbOf } from '$lib/audio/meters.svelte';
  import { desktop } from '$stages/desktop';
  import DecayPicture from './DecayPicture.svelte';
  import EchoPicture from './EchoPicture.svelte';
  import FilterPicture from './FilterPicture.svelte';
  import History from './History.svelte';
  import HitPicture from './HitPicture.svelte';
  import { ceilingOf, shows } from './pictures';
  import ShapePicture from './ShapePicture.svelte';
  import Transfer from './Transfer.svelte';

  interface Props {
    strip: Strip;
    processor: Processor;
    kind: KindInfo;
    color: string;
    /** What labels call it. */
    of: string;
  }
  let { strip, processor, kind, color, of }: Props = $props();
  const { player } = desktop();
  const settings = $derived(processor.settings);
  const pictures = $derived(shows(kind));

  /** Level before the processor, where it goes by it. */
  const level = $derived.by(() => {
    void player.meters.tick;
    if (processor.key) return undefined;
    const before = strip.chain[strip.chain.findIndex((p) => p.id === processor.id) - 1];
    const now = before ? player.meters.processor(before.id) : player.meters.level(strip.id, 'trimmed');
    return dbOf(Math.max(...now.peak)) + processor.input_db;
  });
</script>

{#if pictures.transfer}<Transfer {settings} {level} {of} />{/if}
{#if pictures.hit}<HitPicture {processor} {color} {of} ceiling={ceilingOf(settings)} />{/if}
{#if pictures.history}<History {strip} {processor} {color} />{/if}
{#if settings.kind === 'reverb'}
  <DecayPicture reverb={settings} {of} />
{:else if settings.kind === 'delay'}
  <EchoPicture delay={settings} {of} />
{:else if settings.kind === 'envelope_filter'}
  <FilterPicture {settings} {of} />
{:else if settings.kind === 'beat_shape'}
  <ShapePicture {strip} {processor} shape={settings} {of} />
{/if}
