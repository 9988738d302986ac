<!-- A layer's sample with everything that shortens or shapes it drawn over it, so that nothing is cut unseen.
     The ends can be dragged. -->
<script lang="ts">
  import type { AssetRef, Layer } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Waveform from '$lib/ui/Waveform.svelte';

  interface Props {
    layer: Layer;
    asset: AssetRef;
    color: string;
    onlive: (change: Partial<Layer>) => void;
    oncommit: (change: Partial<Layer>) => void;
  }
  let { layer, asset, color, onlive, oncommit }: Props = $props();
  const { player, session } = desktop();

  let width = $state(300);
  let height = $state(120);
  const end = $derived(layer.end_frame ?? asset.frames);
  const x = (frame: number) => (frame / Math.max(1, asset.frames)) * width;
  const msFrames = (ms: number) => (ms / 1000) * asset.sample_rate;
  const curve = (t: number, percent: number) => t / (t + 2 ** (percent / 25) * (1 - t));

  /** The level along the sample, as it will be heard, from 0 to 1. */
  const outline = $derived.by(() => {
    const points: string[] = [];
    const played = end - layer.start_frame;
    const rate = 2 ** (layer.tune_ct / 1200);
    for (let n = 0; n <= 120; n += 1) {
      const read = (n / 120) * played;
      const age = read / rate;
      let level = 1;
      const fade = msFrames(layer.fade_in.ms);
      if (age < fade) level = curve(age / fade, layer.fade_in.curve_percent);
      if (layer.decay) {
        const t = (age - msFrames(layer.decay.hold_ms)) / msFrames(layer.decay.ms);
        if (t >= 1) level = 0;
        else if (t > 0) level *= 1 - curve(t, -layer.decay.curve_percent);
      }
      const place = layer.reverse ? end - read : layer.start_frame + read;
      points.push(`${x(place).toFixed(1)},${((1 - level) * (height - 20)).toFixed(1)}`);
    }
    return points.join(' ');
  });
  const cuts = $derived(
    [
      layer.delay_ms > 0 ? `${layer.delay_ms.toFixed(1)} ms late` : '',
      layer.start_frame > 0 || layer.end_frame !== null ? 'cut' : '',
      layer.decay ? 'decays' : '',
      layer.reverse ? 'reversed' : '',
    ].filter(Boolean),
  );

  let drag: { end: 'start' | 'end'; change: Partial<Layer> } | undefined;
  const box = $state<{ it?: HTMLDivElement }>({});
  function move(event: PointerEvent) {
    if (!drag || !box.it) return;
    const rect = box.it.getBoundingClientRect();
    const frame = Math.round(((event.clientX - rect.left) / rect.width) * asset.frames);
    const change =
      drag.end === 'start'
        ? { start_frame: Math.max(0, Math.min(end - 1, frame)) }
        : { end_frame: frame >= asset.frames ? null : Math.max(layer.start_frame + 1, frame) };
    drag.change = change;
    onlive(change);
  }
</script>

<div class="flex min-h-0 min-w-0 flex-col">
  <div
    bind:this={box.it}
    bind:clientWidth={width}
    bind:clientHeight={height}
    class="bg-panel border-line relative min-h-[60px] flex-1 overflow-hidden rounded-sm border"
  >
    <Waveform peaks={player.overviews[asset.id]} {color} {width} height={Math.max(20, height - 18)} />
    <svg class="pointer-events-none absolute inset-0" {width} {height} aria-hidden="true">
      <rect x="0" y="0" width={x(layer.start_frame)} {height} fill="var(--panel)" opacity="0.8" />
      <rect x={x(end)} y="0" width={Math.max(0, width - x(end))} {height} fill="var(--panel)" opacity="0.8" />
      <polyline points={outline} fill="none" stroke="var(--ink)" stroke-width="1.5" />
    </svg>
    {#each ['start', 'end'] as const as which (which)}
      <div
        role="presentation"
        class="absolute inset-y-0 w-[9px] cursor-ew-resize touch-none"
        data-handle={which}
        style:left="{x(which === 'start' ? layer.start_frame : end) - (which === 'start' ? 0 : 9)}px"
        onpointerdown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drag = { end: which, change: {} };
        }}
        onpointermove={move}
        onpointerup={() => {
          const change = drag?.change ?? {};
          drag = undefined;
          if (Object.keys(change).length > 0) oncommit(change);
        }}
        onpointercancel={() => {
          drag = undefined;
          session.cancelLive();
        }}
      >
        <div class="bg-ink h-full w-[2px] {which === 'end' ? 'ml-[7px]' : ''}"></div>
      </div>
    {/each}
    <p class="text-second absolute inset-x-1 bottom-0 flex justify-between text-[11px]">
      <span class="truncate">{asset.name}{cuts.length > 0 ? `, ${cuts.join(', ')}` : ''}</span>
      <span class="figures text-[11px]!">{Math.round((asset.frames / asset.sample_rate) * 1000)} ms</span>
    </p>
  </div>
</div>
