<!-- A flat level meter from -60 to +6 dBFS: RMS thick, peak thin, held peak as a mark. -->
<script lang="ts">
  import { dbOf, placeOf, type MeterBoard, type StationName } from '$lib/audio/meters.svelte';

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

  const level = $derived.by(() => {
    void meters.tick;
    const { peak, rms, held, highest } = processor
      ? meters.processor(processor)
      : meters.level(strip, station);
    return { peak: Math.max(...peak), rms: Math.max(...rms), held, over: highest > 1 };
  });
  const text = $derived(level.held > 0.001 ? dbOf(level.held).toFixed(1) : '');
  const latched = $derived(level.over ? 'over full scale since peaks were cleared' : '');
  const percent = (gain: number) => `${(placeOf(gain) * 100).toFixed(2)}%`;
</script>

<div
  class="flex items-center gap-2"
  role="meter"
  aria-label={label}
  aria-valuemin={-60}
  aria-valuemax={6}
  aria-valuenow={Math.max(-60, Math.min(6, dbOf(level.held)))}
  aria-valuetext="{text ? `${text} dBFS` : 'silent'}{latched ? `, ${latched}` : ''}"
  title={latched || (figure ? undefined : `${label}: ${text ? `${text} dBFS` : 'silent'}`)}
  data-strip={strip}
  data-station={processor ? undefined : station}
  data-processor={processor}
>
  <div class="relative h-2 min-w-0 flex-1" style:background="var(--faint)">
    <div
      class="absolute inset-y-[3px] left-0"
      style:width={percent(level.peak)}
      style:background={color}
    ></div>
    <div class="absolute inset-y-0 left-0" style:width={percent(level.rms)} style:background={color}></div>
    {#if level.held > 0.001}
      <div
        class="absolute -inset-y-[2px] w-[2px]"
        style:left={percent(level.held)}
        style:background={color}
      ></div>
    {/if}
    {#if target !== undefined}
      <div
        class="border-second absolute -inset-y-[3px] border-l-2 border-dotted"
        style:left={percent(10 ** (target / 20))}
      ></div>
    {/if}
    <!-- Full scale. -->
    <div class="bg-third absolute inset-y-0 w-px" style:left="{(60 / 66) * 100}%"></div>
    <!-- The overload light: it stays until peaks are cleared. -->
    {#if level.over}<div class="bg-wrong absolute -inset-y-[2px] right-0 w-[6px]"></div>{/if}
  </div>
  {#if figure}
    <span class="figures w-10 text-right {level.over ? 'text-wrong font-semibold' : 'text-second'}"
      >{text}</span
    >
  {/if}
</div>
