<!-- What is taken away, hanging from 0 dB, over the key and the sound before and behind; and the same hit by hit. -->
<script lang="ts">
  import { setSettings } from '$lib/state/edits';
  import type { Ducker, DuckerWaves, PairFigures, Processor, Settings, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Graph from '$lib/ui/Graph.svelte';
  import { bandOf, withBand } from './band';
  import { depthText, inOctaves } from './matrix';
  import { hz } from '../shape/pictures';
  import ShapePicture from '../shape/ShapePicture.svelte';
  import Spectra from './Spectra.svelte';
  import { bars, hitLengths, hitLines, placeText, reductionLine, scaleOf, times, waveBand } from './picture';

  interface Props {
    strip: Strip;
    processor: Processor;
    ducker: Ducker | undefined;
    waves: DuckerWaves | undefined;
    pair: PairFigures | undefined;
    keyName: string;
    name: string;
  }
  let { strip, processor, ducker, waves, pair, keyName, name }: Props = $props();
  const { session, board, ducks } = desktop();
  let [width, height] = $state([500, 180]);
  let view = $state<'loop' | 'hits' | 'spectra'>('loop');
  const shared = $derived(bandOf(processor.settings) ? (pair?.shared_hz ?? undefined) : undefined);
  const edit = (to: Settings) => setSettings(session.settledDoc, strip.id, processor.id, to);
  const color = (id: number | null | undefined) => {
    const kind = board.rows.find((r) => r.strip.id === id)?.kind;
    return kind && kind !== 'main' ? `var(--${kind})` : 'var(--second)';
  };
  const deep = $derived(scaleOf(ducker?.figures.depth_db ?? 0));
  const octaves = $derived(inOctaves(processor.settings));
  /** How far down a picture goes: dB, or octaves of a filter. */
  const below = (db: number) => (octaves ? `${(db / 12).toFixed(1)} oct` : `-${db} dB`);
  /** The upper part hangs from 0 dB, the lower one has the waves. */
  const split = $derived(view === 'loop' ? Math.round(height * 0.5) : height - 20);
  const middle = $derived((split + height) / 2);
  const half = $derived((height - split) / 2 - 3);
  const frames = $derived((ducks.heardSpan?.to ?? 0) - (ducks.heardSpan?.from ?? 0));
  const grid = $derived(bars(ducks.bars, board.time.bar_ticks / board.time.beat_ticks, width));
  const hits = $derived(ducker?.figures.hits ?? []);
  const places = $derived(hits.map((h) => h.at));
  /** The longest time from one hit to the next. */
  const span = $derived(Math.max(0, ...hitLengths(places, frames)));
  const marks = $derived(times((1000 * span) / session.header.sample_rate, width));
  const overlaid = $derived(
    waves ? hitLines(waves.reduction_db, places, frames, span, width, split, deep) : [],
  );
  /** Both sounds by one scale, so that they can be held against each other. */
  const loudest = $derived(waves ? Math.max(...waves.key, ...waves.before) : 0);
  const at = (frame: number) =>
    placeText(frame / board.time.frames_per_tick + board.loopStart * board.time.bar_ticks, board.time);
  const VIEWS = [
    ['loop', 'The loop'],
    ['hits', 'Hit over hit'],
    ['spectra', 'Spectra'],
  ] as const;
  const figure = (ms: number | null) => (ms === null ? '–' : ms.toFixed(0));
</script>

{#snippet swatch(of: string, text: string)}
  <!-- Colours of families are too light for small words. -->
  <span class="inline-block size-2 rounded-[2px]" style:background={of}></span>
  {text}
{/snippet}

<div class="flex min-h-0 min-w-0 gap-4">
  <div class="flex min-h-0 min-w-0 flex-1 flex-col">
    <Graph
      bind:width
      bind:height
      role={view === 'spectra' ? 'group' : 'img'}
      label="What {keyName} does to {name}, {below(deep)} at most, over the waves of both"
    >
      {#if view === 'loop'}
        {#each grid as line (line.x)}
          <path d="M{line.x} 0V{height}" stroke={line.bar ? 'var(--line)' : 'var(--faint)'} />
        {/each}
      {:else if view === 'hits'}
        {#each marks as { x, ms } (ms)}
          <path d="M{x} 0V{height}" stroke="var(--faint)" />
          <text x={x - 3} y={height - 5} text-anchor="end" class="fill-(--second) text-[10px]">{ms} ms</text>
        {/each}
      {/if}
      {#if waves && view === 'loop'}
        <path
          d={waveBand(waves.before, width, middle, half, loudest)}
          fill={color(strip.id)}
          opacity="0.25"
        />
        <path
          d={waveBand(waves.behind, width, middle, half, loudest)}
          fill={color(strip.id)}
          opacity="0.75"
        />
        <path
          d={waveBand(waves.key, width, middle, half, loudest)}
          fill={color(processor.key?.source)}
          opacity="0.55"
        />
        <path
          d="{reductionLine(waves.reduction_db, width, split, deep)}V2H0Z"
          fill="var(--look)"
          opacity="0.15"
        />
        <path
          d={reductionLine(waves.reduction_db, width, split, deep)}
          fill="none"
          stroke="var(--look)"
          stroke-width="1.8"
        />
      {:else if waves && view === 'hits'}
        {#each overlaid as path, n (n)}
          <path d={path} fill="none" stroke="var(--look)" stroke-width="1.2" opacity="0.5" />
        {/each}
      {/if}
      {#if view === 'spectra'}
        {#if pair}
          <Spectra
            {pair}
            {width}
            {height}
            settings={processor.settings}
            of="the ducker on {name}"
            ontry={(to) => session.try(edit(to))}
            onset={(to) => session.apply(edit(to))}
            oncancel={() => session.cancelLive()}
            keyColor={color(processor.key?.source)}
            color={color(strip.id)}
          />
        {:else}
          <text x={width / 2} y={height / 2} text-anchor="middle" class="fill-(--second) text-[12px]"
            >{processor.key?.source ? 'being heard …' : 'no key to hold it against'}</text
          >
        {/if}
      {:else}
        <path d="M0 2H{width}" stroke="var(--second)" />
        <path d="M0 {split}H{width}" stroke="var(--line)" stroke-dasharray="2 3" />
        <text x={width - 4} y="14" text-anchor="end" class="fill-(--second) text-[10px]"
          >{octaves ? 'at rest' : '0 dB'}</text
        >
        <text x={width - 4} y={split - 4} text-anchor="end" class="fill-(--second) text-[10px]"
          >{below(deep)}</text
        >
      {/if}
      {#snippet caption()}
        {#if view === 'loop'}
          {octaves ? 'how far the filter moves' : 'taken away'}, from above; {#if processor.key}{@render swatch(
              color(processor.key.source),
              keyName,
            )} over{/if}
          {@render swatch(color(strip.id), name)}, light before, dark behind
        {:else if view === 'hits'}
          every hit over the others, from the hit to the next
        {:else}
          {@render swatch(color(processor.key?.source), keyName)} and
          {@render swatch(color(strip.id), name)}, dashed without; shaded: what they share
        {/if}
      {/snippet}
    </Graph>
    <p class="flex gap-3 text-[12px]" role="group" aria-label="What the picture shows">
      {#each VIEWS as [id, text] (id)}
        <button
          class="rounded-sm px-1 {view === id ? 'bg-chosen' : 'text-second hover:bg-chosen'}"
          aria-pressed={view === id}
          onclick={() => (view = id)}>{text}</button
        >
      {/each}
      {#if view === 'spectra' && shared}
        <button
          class="underline"
          title="{hz(shared[0])} to {hz(shared[1])}"
          onclick={() => session.apply(edit(withBand(processor.settings, shared)))}
          >Band where both share most</button
        >
      {/if}
    </p>
  </div>
  {#if processor.settings.kind === 'beat_shape'}
    <ShapePicture {strip} {processor} shape={processor.settings} of="the shape on {name}" />
  {:else}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="min-h-0 w-[236px] shrink-0 overflow-auto" tabindex="0" role="region" aria-label="Hit by hit">
      <table class="figures w-full text-[11px]!">
        <thead class="text-second bg-raised sticky top-0 text-right">
          <tr>
            <th class="text-left font-normal">Hit</th>
            <th class="font-normal" title="The most that it does before the next hit"
              >{octaves ? 'oct' : 'dB'}</th
            >
            <th class="font-normal" title="From the hit to the deepest point">full ms</th>
            <th
              class="font-normal"
              title="From the hit until no more than 1 dB is taken away, or a filter is within a semitone"
              >back ms</th
            >
            <th class="font-normal" title="From there to the next hit; below 0 late by as much">early</th>
          </tr>
        </thead>
        <tbody class="text-right">
          {#each hits as hit (hit.at)}
            <tr class={hit.recovery_ms === null || hit.recovery_ms < 0 ? 'text-look' : ''}>
              <td class="text-left">{at(hit.at)}</td>
              <td>{depthText(hit.depth_db, processor.settings).replace(' oct', '')}</td>
              <td>{hit.full_ms.toFixed(1)}</td>
              <td>{figure(hit.back_ms)}</td>
              <td>{figure(hit.recovery_ms)}</td>
            </tr>
          {:else}
            <tr>
              <td colspan="5" class="text-second text-left font-sans"
                >{ducker ? 'No hit takes anything away.' : 'Not heard yet.'}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
</div>
