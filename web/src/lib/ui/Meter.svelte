<!-- A flat level meter from -60 to +6 dBFS: RMS thick, peak thin, held peak as a mark. -->
<script lang="ts">
  import LevelBar from './LevelBar.svelte';
  import { dbOf, type MeterBoard, type StationName } from '$lib/audio/meters.svelte';

  interface Props {
    meters: MeterBoard;
    strip: number;
    /** One of the strip's processors instead of a station. */
    processor?: number;
    station?: StationName;
    color: string;
    /** A level to reach, in dBFS, marked on the bar. */
    target?: number;
    /** Shows the held peak in dBFS beside the bar. */
    figure?: boolean;
    label: string;
  }
  let { meters, strip, processor, station = 'out', color, target, figure = true, label }: Props = $props();

  const read = () => (processor ? meters.processor(processor) : meters.level(strip, station));
  const bars = () => {
    const { peak, rms, held, highest } = read();
    return { peak: Math.max(...peak), rms: Math.max(...rms), held, over: highest > 1 };
  };

  /** What is written: a few times a second. */
  const written = $derived.by(() => {
    void meters.slow;
    const { held, highest } = read();
    return { db: held > 0.001 ? Math.round(10 * dbOf(held)) / 10 : -Infinity, over: highest > 1 };
  });
  const unit = $derived(strip === meters.main && station === 'out' && !processor ? 'dBTP' : 'dBFS');
  const text = $derived(written.db > -Infinity ? written.db.toFixed(1) : '');
  const latched = $derived(written.over ? 'over full scale since peaks were cleared' : '');
</script>

<div
  class="flex items-center gap-2"
  role="meter"
  aria-label={label}
  aria-valuemin={-60}
  aria-valuemax={6}
  aria-valuenow={Math.max(-60, Math.min(6, written.db))}
  aria-valuetext="{text ? `${text} ${unit}` : 'silent'}{latched ? `, ${latched}` : ''}"
  title={latched || (figure ? undefined : `${label}: ${text ? `${text} ${unit}` : 'silent'}`)}
  data-strip={strip}
  data-station={processor ? undefined : station}
  data-processor={processor}
>
  <!-- The bar is 8 pixels high, marks stand out by 2 on either side. -->
  <LevelBar read={bars} {color} {target} class="-my-[2px] h-3 w-0 min-w-0 flex-1" />
  {#if figure}
    <span class="figures w-10 text-right {written.over ? 'text-wrong font-semibold' : 'text-second'}"
      >{text}</span
    >
  {/if}
</div>
