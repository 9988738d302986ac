<!-- A number that can be dragged, typed, scrolled, stepped with the arrow keys, and reset with a double click. -->
<script lang="ts">
  interface Props {
    /** Full name, for tooltips and screen readers. */
    label: string;
    value: number;
    min: number;
    max: number;
    unit: string;
    /** Change of one arrow key; a tenth with Shift. */
    step?: number;
    reset?: number;
    digits?: number;
    /** At or below this the value reads "off". */
    offAt?: number;
    format?: (value: number) => string;
    /** While the value is moved. */
    onlive?: (value: number) => void;
    /** When it is let go. */
    oncommit: (value: number) => void;
    oncancel?: () => void;
    class?: string;
  }
  let {
    label,
    value,
    min,
    max,
    unit,
    step = 1,
    reset = 0,
    digits = 1,
    offAt,
    format,
    onlive,
    oncommit,
    oncancel,
    class: extra = '',
  }: Props = $props();

  /** Pixels of a drag for one step. */
  const PIXELS = 4;

  let typing = $state(false);
  let text = $state('');
  let drag: { from: number; y: number; moved: boolean; now: number } | undefined;

  const round = (x: number) => Math.round(x * 1000) / 1000;
  const held = (x: number) => round(Math.max(min, Math.min(max, x)));
  const shown = $derived(
    offAt !== undefined && value <= offAt
      ? 'off'
      : format
        ? format(value)
        : (value > 0 && min < 0 ? '+' : '') + value.toFixed(digits).replace(/^-0(\.0+)?$/, '0$1'),
  );

  function down(event: PointerEvent) {
    if (typing || event.button !== 0) return;
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    drag = { from: value, y: event.clientY, moved: false, now: value };
  }
  function move(event: PointerEvent) {
    if (!drag) return;
    const pixels = drag.y - event.clientY;
    if (!drag.moved && Math.abs(pixels) < 3) return;
    drag.moved = true;
    drag.now = held(drag.from + (pixels / PIXELS) * step * (event.shiftKey ? 0.1 : 1));
    onlive?.(drag.now);
  }
  function up() {
    if (!drag) return;
    const { moved, now, from } = drag;
    drag = undefined;
    if (moved && now !== from) oncommit(now);
    else if (moved) oncancel?.();
  }
  function cancel() {
    if (drag?.moved) oncancel?.();
    drag = undefined;
  }
  function key(event: KeyboardEvent) {
    if (typing) return;
    const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (by) {
      event.preventDefault();
      event.stopPropagation();
      oncommit(held(value + by * step * (event.shiftKey ? 0.1 : 1)));
    } else if (event.key === 'Home' || event.key === 'End') {
      event.preventDefault();
      oncommit(event.key === 'Home' ? min : max);
    } else if (event.key === 'Enter' || /^[-+\d.]$/.test(event.key)) {
      event.preventDefault();
      event.stopPropagation();
      text = event.key === 'Enter' ? String(value) : event.key;
      typing = true;
    } else if (event.key === 'Escape') {
      cancel();
    }
  }
  function typed(event: KeyboardEvent) {
    event.stopPropagation();
    if (event.key === 'Escape') typing = false;
    if (event.key !== 'Enter') return;
    typing = false;
    const wish = text.trim().toLowerCase() === 'off' ? min : Number.parseFloat(text.replace(',', '.'));
    if (Number.isFinite(wish)) oncommit(held(wish));
  }
  function wheel(event: WheelEvent) {
    if (document.activeElement !== event.currentTarget) return;
    event.preventDefault();
    oncommit(held(value - Math.sign(event.deltaY) * step * (event.shiftKey ? 0.1 : 1)));
  }
  function focus(input: HTMLInputElement) {
    // The text must stand before it can be selected; a digit that began it is kept.
    input.value = text;
    input.focus();
    if (text === String(value)) input.select();
  }
</script>

{#if typing}
  <input
    use:focus
    bind:value={text}
    onkeydown={typed}
    onblur={() => (typing = false)}
    aria-label="{label} in {unit}"
    class="figures bg-raised w-14 rounded-sm px-1 text-right {extra}"
  />
{:else}
  <div
    role="spinbutton"
    tabindex="0"
    aria-label={label}
    aria-valuenow={value}
    aria-valuemin={min}
    aria-valuemax={max}
    aria-valuetext="{shown} {unit}"
    title="{label}, {min} to {max} {unit}"
    class="figures hover:bg-chosen w-14 cursor-ns-resize touch-none rounded-sm px-1 text-right select-none {extra}"
    onpointerdown={down}
    onpointermove={move}
    onpointerup={up}
    onpointercancel={cancel}
    ondblclick={() => oncommit(reset)}
    onkeydown={key}
    onwheel={wheel}
  >
    {shown}
  </div>
{/if}
