<!-- One send of a strip: level, tap, and in the bench pan, mute and a way out. -->
<script lang="ts">
  import { range } from '$lib/limits';
  import type { Strip, StripSend } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { newSend, sendActions } from '$lib/state/sends';
  import ValueField from '$lib/ui/ValueField.svelte';
  import { panText } from '$lib/ui/typed';

  interface Props {
    strip: Strip;
    /** The return; a strip without a send to it gets one when the level is moved. */
    to: number;
    /** Only level and tap. */
    short?: boolean;
  }
  let { strip, to, short = false }: Props = $props();
  const { session, board } = desktop();
  const from = $derived(session.nameOf(strip.id));
  const target = $derived(session.nameOf(to));
  const send = $derived(strip.sends.find((s) => s.to === to));
  const shown = $derived<StripSend>(send ?? { ...newSend(session.doc, to), level_db: -100 });
  const actions = $derived(sendActions(session, board, strip, to));
  const { set } = $derived(actions);
</script>

<div class="flex items-center gap-1" class:opacity-50={shown.mute}>
  <ValueField
    label="Send of {from} to {target}"
    value={shown.level_db}
    {...range('fader_db')}
    offAt={-100}
    step={0.5}
    unit="dB"
    class="w-12! {send ? '' : 'text-second'}"
    {...actions.level}
  />
  {#if send}
    <button
      class="hover:bg-chosen border-line w-9 rounded-sm border text-[11px]"
      aria-label="Send of {from} to {target}: {shown.tap === 'pre_fader' ? 'pre' : 'post'} fader"
      title="Taken before or after the fader"
      onclick={actions.turnTap}>{shown.tap === 'pre_fader' ? 'pre' : 'post'}</button
    >
    {#if !short}
      {#if shown.tap === 'pre_fader'}
        <button
          class="border-line rounded-sm border px-1 text-[11px] {shown.placed
            ? 'bg-ink text-panel'
            : 'hover:bg-chosen'}"
          aria-pressed={shown.placed}
          aria-label="Send of {from} to {target} with its width and pan"
          title="With the width and pan that the row has"
          onclick={() => set({ placed: !shown.placed })}>with pan</button
        >
      {/if}
      <ValueField
        label="Pan of the send of {from} to {target}"
        value={shown.pan_percent}
        {...range('pan_percent')}
        unit="%"
        format={panText}
        class="w-12!"
        {...actions.pan}
      />
      <button
        class="border-line h-[19px] w-[19px] rounded-sm border text-[11px] {shown.mute
          ? 'bg-ink text-panel'
          : 'hover:bg-chosen'}"
        aria-pressed={shown.mute}
        aria-label="Mute the send of {from} to {target}"
        onclick={() => set({ mute: !shown.mute })}>M</button
      >
      <button
        class="text-second px-1 underline"
        aria-label="Remove the send of {from} to {target}"
        onclick={actions.remove}>remove</button
      >
    {/if}
  {/if}
</div>
