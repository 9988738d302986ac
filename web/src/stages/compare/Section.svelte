<!-- The outline of a recording, and what of it is played: a stretch that is drawn with the pointer. -->
<script lang="ts">
  import Waveform from '$lib/ui/Waveform.svelte';

  interface Props {
    name: string;
    peaks: Float32Array | undefined;
    /** In parts of the whole. */
    from: number;
    to: number;
    onspan: (from: number, to: number) => void;
  }
  let { name, peaks, from, to, onspan }: Props = $props();
  let wide = $state(400);
  let drag = $state<{ from: number; to: number }>();
  const ordered = (span: { from: number; to: number }) => ({
    from: Math.min(span.from, span.to),
    to: Math.max(span.from, span.to),
  });
  const shown = $derived(drag && Math.abs(drag.to - drag.from) > 0.002 ? ordered(drag) : { from, to });
  const at = (event: PointerEvent & { currentTarget: HTMLElement }) => {
    const box = event.currentTarget.getBoundingClientRect();
    return Math.max(0, Math.min(1, (event.clientX - box.left) / box.width));
  };
  function finish() {
    if (drag && Math.abs(drag.to - drag.from) > 0.002) onspan(shown.from, shown.to);
    drag = undefined;
  }
</script>

<!-- Start and end stand as figures beside it, for the keyboard. -->
<div
  class="bg-panel border-line relative mt-1 h-[44px] cursor-crosshair touch-none overflow-hidden rounded-sm border"
  role="img"
  aria-label="Outline of {name}; what is played is marked"
  title="Draw over it what shall be played; a double click takes all of it"
  bind:clientWidth={wide}
  onpointerdown={(event) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    drag = { from: at(event), to: at(event) };
  }}
  onpointermove={(event) => drag && (drag = { ...drag, to: at(event) })}
  onpointerup={finish}
  onpointercancel={() => (drag = undefined)}
  ondblclick={() => onspan(0, 1)}
>
  <Waveform {peaks} color="var(--third)" width={wide} height={42} />
  <div
    class="border-ink pointer-events-none absolute inset-y-0 border-x bg-(--ink)/10"
    style:left="{shown.from * 100}%"
    style:width="{(shown.to - shown.from) * 100}%"
  ></div>
</div>
