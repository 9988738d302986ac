<!-- The last seconds: the level that goes in, and how much is taken away. -->
<script lang="ts">
  import type { Processor, Strip } from '$lib/api/types';
  import { dbOf } from '$lib/audio/meters.svelte';
  import { desktop } from '$stages/desktop';

  let { strip, processor, color }: { strip: Strip; processor: Processor; color: string } = $props();
  const { player } = desktop();
  /** Readings shown: four seconds. */
  const COUNT = 240;
  let [width, height] = $state([0, 0]);
  const DEPTH = 24;
  let kept: { level: number; reduction: number }[] = [];
  let of = 0;
  let canvas = $state<HTMLCanvasElement>();
  let deepest = $state(0);

  $effect(() => {
    void [player.meters.tick, width, height];
    if (of !== processor.id) [kept, of] = [[], processor.id];
    if (player.playing) {
      const at = strip.chain.findIndex((p) => p.id === processor.id);
      const before = strip.chain[at - 1];
      const level = before ? player.meters.processor(before.id) : player.meters.level(strip.id, 'trimmed');
      kept.push({
        level: dbOf(Math.max(...level.peak)),
        reduction: player.meters.processor(processor.id).reduction,
      });
      if (kept.length > COUNT) kept = kept.slice(-COUNT);
    }
    draw();
  });

  function draw() {
    const context = canvas?.getContext('2d');
    if (!canvas || !context) return;
    const scale = devicePixelRatio;
    const size = [Math.round(width * scale), Math.round(height * scale)] as const;
    if (canvas.width !== size[0] || canvas.height !== size[1]) [canvas.width, canvas.height] = size;
    context.resetTransform();
    context.clearRect(0, 0, ...size);
    context.scale(scale, scale);
    const style = getComputedStyle(canvas);
    const ink = (name: string) => style.getPropertyValue(name);
    const x = (n: number) => ((COUNT - kept.length + n) / COUNT) * width;
    context.fillStyle = color.startsWith('var') ? ink(color.slice(4, -1)) : color;
    context.globalAlpha = 0.45;
    kept.forEach(({ level }, n) => {
      const high = Math.max(0, (level + 60) / 60) * height;
      context.fillRect(x(n), height - high, width / COUNT + 0.5, high);
    });
    context.globalAlpha = 1;
    context.strokeStyle = ink('--line');
    for (const db of [6, 12, 18]) {
      context.beginPath();
      context.moveTo(0, (db / DEPTH) * height);
      context.lineTo(width, (db / DEPTH) * height);
      context.stroke();
    }
    context.strokeStyle = ink('--look');
    context.lineWidth = 2;
    context.beginPath();
    kept.forEach(({ reduction }, n) => {
      const y = 1 + Math.min(1, reduction / DEPTH) * (height - 2);
      if (n === 0) context.moveTo(x(n), y);
      else context.lineTo(x(n), y);
    });
    context.stroke();
    deepest = Math.max(0, ...kept.map((k) => k.reduction));
  }
</script>

<figure class="flex min-h-[132px] min-w-0 flex-1 flex-col">
  <div
    class="border-line bg-panel relative min-h-0 flex-1 overflow-hidden rounded-sm border"
    bind:clientWidth={width}
    bind:clientHeight={height}
  >
    <canvas
      bind:this={canvas}
      class="absolute inset-0 h-full w-full"
      aria-label="Reduction over the last four seconds, at most {deepest.toFixed(1)} dB"
    ></canvas>
  </div>
  <figcaption class="text-second truncate text-[10px]">
    level in, from below; <span class="text-look">taken away</span>, from above, a line each 6 dB; 4 s
  </figcaption>
</figure>
