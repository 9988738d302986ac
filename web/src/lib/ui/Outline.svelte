<!-- The routing of a template in one colour: lanes, then buses and returns, then main. -->
<script lang="ts">
  import type { OutlineStrip } from '$lib/api/types';

  let { strips, label }: { strips: OutlineStrip[]; label: string } = $props();
  const WIDTH = 150;
  const HEIGHT = 52;
  /** Strips between a strip and main. */
  function depth(strip: OutlineStrip): number {
    let at: OutlineStrip | undefined = strip;
    let count = 0;
    while (at && at.output !== null && count < strips.length) {
      const next: number = at.output;
      at = strips.find((s) => s.id === next);
      count += 1;
    }
    return count;
  }
  const places = $derived.by(() => {
    const stations = strips.filter((s) => s.kind === 'bus' || s.kind === 'return' || s.kind === 'main');
    const deepest = Math.max(1, ...stations.map(depth));
    const columns = new Map<number, OutlineStrip[]>();
    for (const strip of strips) {
      const lane = strip.kind === 'channel' || strip.kind === 'trigger';
      const column = lane ? 0 : strip.kind === 'main' ? deepest + 1 : deepest + 1 - Math.max(1, depth(strip));
      const list = columns.get(column);
      if (list) list.push(strip);
      else columns.set(column, [strip]);
    }
    const found = new Map<number, { x: number; y: number; strip: OutlineStrip }>();
    for (const [column, list] of columns)
      list.forEach((strip, n) =>
        found.set(strip.id, {
          strip,
          x: 8 + (column / (deepest + 1)) * (WIDTH - 16),
          y: ((n + 0.5) / list.length) * (HEIGHT - 6) + 3,
        }),
      );
    return found;
  });
  const line = (from: number, to: number | null) => {
    const [a, b] = [places.get(from), to === null ? undefined : places.get(to)];
    if (!a || !b) return undefined;
    const bend = (a.x + b.x) / 2;
    return `M${a.x} ${a.y}C${bend} ${a.y} ${bend} ${b.y} ${b.x} ${b.y}`;
  };
</script>

<svg width={WIDTH} height={HEIGHT} role="img" aria-label={label} class="text-ink shrink-0">
  {#each strips as strip (strip.id)}
    <path
      d={line(strip.id, strip.output)}
      fill="none"
      stroke="currentColor"
      stroke-width="1.6"
      opacity="0.55"
    />
    {#each strip.sends as to (to)}
      <path
        d={line(strip.id, to)}
        fill="none"
        stroke="currentColor"
        stroke-width="1"
        stroke-dasharray="2 2"
        opacity="0.55"
      />
    {/each}
  {/each}
  {#each [...places.values()] as { strip, x, y } (strip.id)}
    {#if strip.kind === 'return'}
      <circle cx={x} cy={y} r="3.4" fill="var(--panel)" stroke="currentColor" stroke-width="1.4" />
    {:else if strip.kind === 'bus' || strip.kind === 'main'}
      <rect x={x - 3.5} y={y - 3.5} width="7" height="7" fill="currentColor" />
    {:else}
      <path d="M{x - 4} {y}h6" stroke="currentColor" stroke-width="2.4" />
    {/if}
  {/each}
</svg>
