<!-- Loudness over time and octaves of all sides over each other, as loud as each other. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import { LETTERS } from './sides.svelte';
  import Graph from '$lib/ui/Graph.svelte';
  import { bars, COLOURS, line, octaveName, rangeOf, type Drawn } from './pictures';

  const { sides } = desktop();
  let [width, height] = $state([480, 120]);
  let [wide, high] = $state([480, 120]);
  const drawn = $derived(
    sides.all.flatMap((side, at): Drawn[] => {
      const figures = sides.figuresOf(side);
      return figures ? [{ at, figures, offset: sides.offsets[at] ?? 0 }] : [];
    }),
  );
  const moved = (d: Drawn) => d.figures.momentary_lufs.map((db) => (db === null ? null : db + d.offset));
  const loudness = $derived(rangeOf(drawn.flatMap(moved)));
  const octaves = $derived(rangeOf(drawn.flatMap((d) => d.figures.octaves.db.map((db) => db + d.offset))));
  const hz = $derived(drawn[0]?.figures.octaves.hz ?? []);
  const steps = [6, 12, 18, 24];
  /** Sides of the loop are as long as it; a reference by itself has its own length. */
  const spans = $derived.by(() => {
    const lengths = new Set(drawn.map((d) => d.figures.seconds.toFixed(1)));
    if (lengths.size === 1) return `${[...lengths][0]} s`;
    return drawn.map((d) => `${LETTERS[d.at]} ${d.figures.seconds.toFixed(1)} s`).join(', ');
  });
  const name = (d: Drawn) => `${LETTERS[d.at]} ${sides.all[d.at]?.name}`;
</script>

{#if drawn.length === 0}
  <p class="text-second">
    Hold another side against now: how loud each is over the loop, and where its power lies, is drawn here.
  </p>
{:else}
  <div class="flex h-full min-h-[150px] gap-5 {sides.stale ? 'opacity-60' : ''}">
    <Graph
      bind:width
      bind:height
      label="Momentary loudness over what is heard: {drawn.map(name).join(', ')}"
      data-testid="loudness-over-time"
    >
      {#each steps as step (step)}
        <line x1="0" x2={width} y1={(step / 30) * height} y2={(step / 30) * height} stroke="var(--faint)" />
      {/each}
      {#each drawn as d (d.at)}
        <path
          d={line(moved(d), loudness, width, height)}
          fill="none"
          stroke={COLOURS[d.at]}
          stroke-width={sides.at === d.at ? 2.2 : 1.3}
        />
      {/each}
      {#each steps as step (step)}
        <text
          x="3"
          y={(step / 30) * height - 2}
          font-size="9"
          fill="var(--second)"
          stroke="var(--panel)"
          stroke-width="3"
          paint-order="stroke">{loudness.top - step}</text
        >
      {/each}
      {#snippet caption()}Momentary loudness in LUFS, as loud as each other, over {spans}{/snippet}
    </Graph>
    <Graph
      bind:width={wide}
      bind:height={high}
      label="Power in octaves: {drawn.map(name).join(', ')}"
      data-testid="octaves"
    >
      {#each steps as step (step)}
        <line
          x1="0"
          x2={wide}
          y1={(step / 30) * (high - 14)}
          y2={(step / 30) * (high - 14)}
          stroke="var(--faint)"
        />
      {/each}
      {#each bars(drawn, octaves, wide, high - 14) as bar, n (n)}
        <rect x={bar.x} y={bar.y} width={bar.width} height={bar.height} fill={COLOURS[bar.at]}>
          <title>{LETTERS[bar.at]}, {octaveName(hz[n % hz.length] ?? 0)} Hz: {bar.db.toFixed(1)} dB</title>
        </rect>
      {/each}
      {#each hz as middle, n (middle)}
        <text
          x={((n + 0.5) * wide) / hz.length}
          y={high - 3}
          font-size="9"
          text-anchor="middle"
          fill="var(--second)">{octaveName(middle)}</text
        >
      {/each}
      {#snippet caption()}Octaves in Hz, {octaves.foot} to {octaves.top} dB, as loud as each other{/snippet}
    </Graph>
  </div>
{/if}
