<!-- A number that can be dragged, typed, scrolled, stepped with the arrow keys, and reset with a double click. -->
<script lang="ts">
  import { tick } from 'svelte';
  import { readTyped, spoken, willDo } from './typed';

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
    /** Where several may be meant, asked when it is moved: what moves them as far as this one goes. A plain number that is
     *  typed, and a reset, still make them equal. */
    together?: () => ((from: number, to: number, how: 'try' | 'apply') => void) | undefined;
    /** Why it does nothing here, where that is so; the value is written lighter then. */
    idle?: string;
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
    together,
    idle,
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

  /** The value goes from one to another, and others with it where several are meant. */
  function go(from: number, to: number, how: 'try' | 'apply') {
    const move = together?.();
    if (move) move(from, to, how);
    else if (how === 'try') onlive?.(to);
    else oncommit(to);
  }
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
    go(drag.from, drag.now, 'try');
  }
  function up() {
    if (!drag) return;
    const { moved, now, from } = drag;
    drag = undefined;
    if (moved && now !== from) go(from, now, 'apply');
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
      go(value, held(value + by * step * (event.shiftKey ? 0.1 : 1)), 'apply');
    } else if (event.key === 'Home' || event.key === 'End') {
      event.preventDefault();
      oncommit(event.key === 'Home' ? min : max);
    } else if (event.key === 'Enter' || /^[-+=\d.,]$/.test(event.key)) {
      event.preventDefault();
      event.stopPropagation();
      text = event.key === 'Enter' ? String(value) : event.key;
      typing = true;
    } else if (event.key === 'Escape') {
      cancel();
    }
  }
  /** What is typed would change all chosen rows. */
  const several = $derived(typing && together?.() !== undefined);
  const will = $derived(several ? willDo(text, min, unit) : '');
  let field = $state<HTMLElement>();
  /** Typing is over; the field is where the keys go on. */
  function ends() {
    typing = false;
    void tick().then(() => field?.focus());
  }
  function typed(event: KeyboardEvent) {
    event.stopPropagation();
    if (event.key === 'Escape') ends();
    if (event.key !== 'Enter') return;
    ends();
    const meant = readTyped(text, min, together?.() !== undefined);
    if (meant && 'by' in meant) go(value, round(value + meant.by), 'apply');
    else if (meant) oncommit(held(meant.set));
  }
  function wheel(event: WheelEvent) {
    if (document.activeElement !== event.currentTarget) return;
    event.preventDefault();
    go(value, held(value - Math.sign(event.deltaY) * step * (event.shiftKey ? 0.1 : 1)), 'apply');
  }
  function focus(input: HTMLInputElement) {
    // The text must stand before it can be selected; a digit that began it is kept.
    input.value = text;
    input.focus();
    if (text === String(value)) input.select();
  }
</script>

{#if typing}
  <span class="relative">
    <input
      use:focus
      bind:value={text}
      onkeydown={typed}
      onblur={() => (typing = false)}
      aria-label="{label} in {unit}"
      class="figures bg-raised w-14 rounded-sm px-1 text-right {extra}"
    />
    {#if several}
      <span
        role="status"
        class="bg-ink text-panel pointer-events-none absolute top-full right-0 z-20 mt-[2px] rounded-sm px-1 whitespace-nowrap {will
          ? ''
          : 'hidden'}">{will}</span
      >
    {/if}
  </span>
{:else}
  <div
    bind:this={field}
    role="spinbutton"
    tabindex="0"
    aria-label={label}
    aria-valuenow={value}
    aria-valuemin={min}
    aria-valuemax={max}
    aria-valuetext="{spoken(shown, unit)}{idle ? `. ${idle}` : ''}"
    title="{idle ? `${idle} ` : ''}{label}, {min} to {max} {unit}{together
      ? '; chosen rows move together: +3 and -3 move them, a plain number makes them equal'
      : ''}"
    class="figures hover:bg-chosen w-14 cursor-ns-resize touch-none rounded-sm px-1 text-right select-none {idle
      ? 'text-second'
      : ''} {extra}"
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
