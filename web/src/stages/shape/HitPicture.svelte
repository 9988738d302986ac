<!-- The loudest hit of the last moment before and behind a processor: outline and peak. -->
<script lang="ts">
  import type { Processor } from '$lib/api/types';
  import { dbOf } from '$lib/audio/meters.svelte';
  import { desktop } from '$stages/desktop';
  import Graph from '$lib/ui/Graph.svelte';

  interface Props {
    processor: Processor;
    color: string;
    of: string;
    /** Drawn across, where the processor has one, in dBFS. */
    ceiling?: number;
  }
  let { processor, color, of, ceiling }: Props = $props();
  const { session, player } = desktop();
  let [width, height] = $state([360, 116]);
  /** What is shown, and how much of it before the hit, in seconds. */
  const [SHOWN, AHEAD] = [0.25, 0.012];
  const COLUMNS = 180;

  interface Outline {
    before: number[];
    behind: number[];
    peaks: [number, number];
  }
  /** Kept when playing stops, so that it can be looked at. */
  let found = $state.raw<Outline & { id: number }>();
  const peak = (sound: Float32Array, from: number, to: number) => {
    let most = 0;
    for (let n = from; n < to; n += 1) most = Math.max(most, Math.abs(sound[n] ?? 0));
    return most;
  };
  $effect(() => {
    const watched = player.watched;
    if (!watched) return;
    const rate = session.header.sample_rate;
    const [length, ahead] = [Math.round(SHOWN * rate), Math.round(AHEAD * rate)];
    const last = watched.before.length - length;
    let [at, most] = [-1, 0.001];
    // A hit counts when it is louder than anything just before it.
    for (let n = ahead; n < last + ahead; n += 8) {
      const now = Math.abs(watched.before[n] ?? 0);
      if (now > most) [at, most] = [n, now];
    }
    // Loudest at its start, the window holds the end of a hit, not a hit.
    if (at < 2 * ahead) return;
    const start = Math.max(0, Math.min(last, at - ahead));
    const of = (sound: Float32Array) =>
      Array.from({ length: COLUMNS }, (_, n) =>
        peak(
          sound,
          start + Math.floor((n / COLUMNS) * length),
          start + Math.floor(((n + 1) / COLUMNS) * length),
        ),
      );
    const [before, behind] = [of(watched.before), of(watched.behind)];
    found = { id: processor.id, before, behind, peaks: [Math.max(...before), Math.max(...behind)] };
  });
  const shown = $derived(found?.id === processor.id ? found : undefined);
  const scale = $derived(
    Math.max(0.05, ...(shown?.peaks ?? []), ceiling === undefined ? 0 : 10 ** (ceiling / 20)),
  );
  const y = (gain: number) => height / 2 - (gain / scale) * (height / 2 - 3);
  const shape = (outline: number[]) => {
    const x = (n: number) => ((n + 0.5) / COLUMNS) * width;
    const top = outline.map((g, n) => `${n === 0 ? 'M' : 'L'}${x(n).toFixed(1)} ${y(g).toFixed(1)}`).join('');
    const low = outline
      .map((g, n) => `L${x(n).toFixed(1)} ${y(-g).toFixed(1)}`)
      .toReversed()
      .join('');
    return `${top}${low}Z`;
  };
  const text = (gain: number) => (gain > 0.0005 ? `${dbOf(gain).toFixed(1)} dBFS` : 'silent');
  const limit = $derived(ceiling === undefined ? undefined : 10 ** (ceiling / 20));
</script>

<Graph
  bind:width
  bind:height
  label="A hit before and behind {of}: peak {text(shown?.peaks[0] ?? 0)} before, {text(
    shown?.peaks[1] ?? 0,
  )} behind"
  data-testid="hit"
  data-before={shown ? dbOf(shown.peaks[0]).toFixed(2) : ''}
  data-behind={shown ? dbOf(shown.peaks[1]).toFixed(2) : ''}
>
  <path d="M0 {height / 2}H{width}" stroke="var(--line)" />
  {#if shown}
    <path d={shape(shown.before)} fill={color} opacity="0.35" />
    <path d={shape(shown.behind)} fill="none" stroke="var(--ink)" stroke-width="1.2" />
  {:else}
    <text x={width / 2} y={height / 2 - 6} text-anchor="middle" font-size="11" fill="var(--second)"
      >Play to see a hit before and behind it.</text
    >
  {/if}
  {#if limit !== undefined}
    <path
      d="M0 {y(limit)}H{width}M0 {y(-limit)}H{width}"
      stroke="var(--look)"
      stroke-width="1.4"
      stroke-dasharray="4 3"
    />
  {/if}
  {#snippet caption()}
    filled: before, {text(shown?.peaks[0] ?? 0)}; line: behind, {text(shown?.peaks[1] ?? 0)}; 0.25 s{#if limit !== undefined};
      <span class="text-look">ceiling</span>{/if}
  {/snippet}
</Graph>
