<!-- Both spectra over each other, with what they share, and the band of the ducker to be moved. -->
<script lang="ts">
  import type { PairBand, PairFigures, Settings } from '$lib/api/types';
  import { hz } from '../shape/pictures';
  import { bandOf, gripHz, gripsOf, withGrip, type Grip } from './band';
  import { change, hzOfX, MARKS_HZ, sharedBoxes, spectrumPath, xOfHz } from './spectra';

  interface Props {
    pair: PairFigures;
    width: number;
    height: number;
    keyColor: string;
    color: string;
    /** How the ducker is set. */
    settings: Settings;
    /** What the grips of its band are called after. */
    of: string;
    ontry: (to: Settings) => void;
    onset: (to: Settings) => void;
    oncancel: () => void;
  }
  let { pair, width, height, keyColor, color, settings, of, ontry, onset, oncancel }: Props = $props();
  const band = $derived(bandOf(settings));
  const grips = $derived(gripsOf(settings));
  const names: Record<Grip, string> = { low: 'Lower end', middle: 'Middle', high: 'Upper end' };
  let held = $state<Grip>();
  let latest: Settings | undefined;
  function begin(event: PointerEvent, grip: Grip) {
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    [held, latest] = [grip, undefined];
  }
  function drag(event: PointerEvent) {
    const box = (event.currentTarget as Element).closest('svg')?.getBoundingClientRect();
    if (!held || !box) return;
    latest = withGrip(settings, held, hzOfX(event.clientX - box.left, width));
    ontry(latest);
  }
  function end() {
    if (!held) return;
    held = undefined;
    if (latest) onset(latest);
    else oncancel();
  }
  function cancel() {
    if (!held) return;
    held = undefined;
    oncancel();
  }
  /** A twelfth of an octave; with Shift a third. */
  function key(event: KeyboardEvent, grip: Grip) {
    const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (way === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    onset(withGrip(settings, grip, gripHz(settings, grip) * 2 ** (way * (event.shiftKey ? 1 / 3 : 1 / 12))));
  }
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
  {#each grips as grip (grip)}
    {@const x = xOfHz(gripHz(settings, grip), width)}
    <g
      role="slider"
      tabindex="0"
      class="group cursor-ew-resize outline-none"
      aria-label="{names[grip]} of the band of {of}"
      aria-valuemin={20}
      aria-valuemax={20000}
      aria-valuenow={Math.round(gripHz(settings, grip))}
      aria-valuetext={hz(gripHz(settings, grip))}
      onpointerdown={(event) => begin(event, grip)}
      onpointermove={drag}
      onpointerup={end}
      onpointercancel={cancel}
      onkeydown={(event) => key(event, grip)}
    >
      <rect x={x - 6} width="12" {height} fill="transparent" />
      <rect
        x={x - (grip === 'middle' ? 5 : 3)}
        y={grip === 'middle' ? 4 : 5}
        width={grip === 'middle' ? 10 : 6}
        height={grip === 'middle' ? 10 : 8}
        rx="2"
        fill="var(--ink)"
        class="stroke-transparent stroke-4 group-focus-visible:stroke-(--ink)"
      />
    </g>
  {/each}
{/if}
<text x={width - 4} y="14" text-anchor="end" class="fill-(--ink) text-[11px]"
  >{pair.overlap_percent
    ? `overlap ${change(pair.overlap_percent, 0, '%')}`
    : 'they never sound together here'}</text
>
