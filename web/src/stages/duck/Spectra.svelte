<!-- Both spectra over each other, with what they share. -->
<script lang="ts">
  import type { PairBand, PairFigures } from '$lib/api/types';
  import { hz } from '../shape/pictures';
  import { change, MARKS_HZ, sharedBoxes, spectrumPath, xOfHz } from './spectra';

  interface Props {
    pair: PairFigures;
    width: number;
    height: number;
    keyColor: string;
    color: string;
    /** What the ducker works on in Hz; nothing for the whole sound. */
    band: [number, number] | undefined;
  }
  let { pair, width, height, keyColor, color, band }: Props = $props();
  const shared = $derived(sharedBoxes(pair.bands, width));
  const lines = $derived([
    { name: 'without', level: (b: PairBand) => b.target_dbfs, color, fill: 0.12, dash: '3 2' },
    { name: 'with', level: (b: PairBand) => b.ducked_dbfs, color, fill: 0.25, dash: undefined },
    { name: 'key', level: (b: PairBand) => b.key_dbfs, color: keyColor, fill: 0.2, dash: undefined },
  ]);
</script>

{#each MARKS_HZ as mark (mark)}
  <path d="M{xOfHz(mark, width)} 0V{height}" stroke="var(--faint)" />
  <text x={xOfHz(mark, width) + 3} y={height - 4} class="fill-(--second) text-[10px]">{hz(mark)}</text>
{/each}
{#each shared as box (box.x)}
  <rect x={box.x} width={box.width} {height} fill="var(--look)" opacity={0.06 + 0.22 * box.part} />
{/each}
{#each lines as line (line.name)}
  <path
    d={spectrumPath(pair.bands, line.level, width, height)}
    fill={line.color}
    fill-opacity={line.fill}
    stroke={line.color}
    stroke-width="1.5"
    stroke-dasharray={line.dash}
  />
{/each}
{#if band}
  <path
    d="M{xOfHz(band[0], width)} 0V{height}M{xOfHz(band[1], width)} 0V{height}"
    stroke="var(--ink)"
    stroke-dasharray="4 3"
  />
{/if}
<text x={width - 4} y="14" text-anchor="end" class="fill-(--ink) text-[11px]"
  >{pair.overlap_percent
    ? `overlap ${change(pair.overlap_percent, 0, '%')}`
    : 'they never sound together here'}</text
>
