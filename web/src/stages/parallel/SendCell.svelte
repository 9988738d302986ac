<!-- One send as a cell: how much, where it is taken, how it is panned, and what goes there now. -->
<script lang="ts">
  import { tick } from 'svelte';
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { sendActions } from '$lib/state/sends';
  import { range } from '$lib/limits';
  import LevelBar from '$lib/ui/LevelBar.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';
  import { panText } from '$lib/ui/typed';
  import { moveInCells } from './cells';

  let { row, to }: { row: Row; to: number } = $props();
  const { session, board, player } = desktop();
  const color = $derived(`var(--${row.kind === 'main' ? 'ink' : row.kind})`);
  const send = $derived(row.strip.sends.find((s) => s.to === to));
  const target = $derived(session.nameOf(to));
  const actions = $derived(sendActions(session, board, row.strip, to));
  const pre = $derived(send?.tap === 'pre_fader');
  /** What goes there now: the level where it is taken, by the send's gain. */
  const read = () => {
    const at =
      pre && row.strip.chain.length > 0
        ? player.meters.processor(row.strip.chain.at(-1)?.id ?? 0)
        : player.meters.level(row.strip.id, pre ? 'trimmed' : 'out');
    const gain =
      !send || send.mute || send.level_db <= -100 || (pre && row.strip.mute) ? 0 : 10 ** (send.level_db / 20);
    const { peak, rms, held } = at;
    return {
      peak: gain * Math.max(...peak),
      rms: gain * Math.max(...rms),
      held: gain * held,
      over: false,
    };
  };
  const label = $derived(`Send of ${row.name} to ${target}`);
  let cell = $state<HTMLElement>();
  async function add() {
    actions.level.oncommit(-100);
    await tick();
    focusIn('level');
  }
  /** Whether the pan has the level's place, where there is not room for both. */
  let panning = $state(false);
  const focusIn = (part: 'level' | 'pan') =>
    cell?.querySelector<HTMLElement>(`[data-${part}] [role=spinbutton]`)?.focus();
  const isIn = (part: 'level' | 'pan') =>
    cell?.querySelector(`[data-${part}]`)?.contains(document.activeElement) === true;
  /** From the level to the pan, and back. */
  async function turn() {
    panning = !isIn('pan');
    await tick();
    focusIn(panning ? 'pan' : 'level');
  }
  /** Where a number is typed, its field is another for a moment. */
  async function left() {
    await tick();
    panning = isIn('pan');
  }
  function key(event: KeyboardEvent) {
    // What is typed is a number.
    if ((event.target as HTMLElement).tagName === 'INPUT' || moveInCells(event)) return;
    if (!send) return;
    if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      event.stopPropagation();
      actions.remove();
    } else if (event.key.toLowerCase() === 'm') {
      event.preventDefault();
      event.stopPropagation();
      actions.set({ mute: !send.mute });
    } else if (event.key.toLowerCase() === 't') {
      event.preventDefault();
      event.stopPropagation();
      actions.turnTap();
    } else if (event.key.toLowerCase() === 'p') {
      event.preventDefault();
      event.stopPropagation();
      void turn();
    }
  }
</script>

<!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events -->
<div
  bind:this={cell}
  class="flex min-w-0 flex-1 items-center gap-1 {send?.mute ? 'opacity-45' : ''}"
  data-cell={to}
  onclick={(event) => event.stopPropagation()}
  onkeydowncapture={key}
>
  {#if send}
    <LevelBar {read} {color} class="-my-[2px] hidden h-3 w-0 min-w-0 flex-1 @min-[96px]:block" />
    <button
      class="hover:bg-chosen w-8 shrink-0 rounded-sm border text-[10px] {pre
        ? 'border-(--ink)'
        : 'text-second border-(--line)'}"
      tabindex="-1"
      aria-label="{pre ? 'pre' : 'post'}: where the send of {row.name} to {target} is taken"
      title="{pre
        ? send.placed
          ? 'Before the fader, with the row’s width and pan'
          : 'Before the fader, width and pan'
        : 'After the fader'}. Press, or T, for the other"
      onclick={actions.turnTap}>{pre ? 'pre' : 'post'}</button
    >
    <span
      class="shrink-0 @min-[140px]:block {panning ? '' : 'hidden'}"
      data-pan
      onfocusin={() => (panning = true)}
      onfocusout={left}
    >
      <ValueField
        label="Pan of the send of {row.name} to {target}"
        value={send.pan_percent}
        {...range('pan_percent')}
        unit="%"
        digits={0}
        format={panText}
        class="w-11! {send.pan_percent === 0 ? 'text-second' : ''}"
        {...actions.pan}
      />
    </span>
    <span class="shrink-0 @min-[140px]:block {panning ? 'hidden' : ''}" data-level>
      <ValueField
        {label}
        value={send.level_db}
        {...range('fader_db')}
        offAt={-100}
        step={0.5}
        unit="dB"
        class="w-11!"
        {...actions.level}
      />
    </span>
  {:else}
    <!-- Most cells are empty: one costs as little as can be. -->
    <button
      class="text-second hover:bg-chosen focus-visible:text-ink ml-auto w-11 rounded-sm pr-1 text-right"
      aria-label="· Send {row.name} to {target}"
      title="Send {row.name} to {target}; chosen rows together"
      onclick={add}>·</button
    >
  {/if}
</div>
