<!-- One send of a strip: level, tap, and in the bench pan, mute and a way out. -->
<script lang="ts">
  import { range } from '$lib/limits';
  import type { Edit, SendTap, Strip, StripSend } from '$lib/api/types';
  import { desktop } from '$lib/state/context';
  import { triedTogether } from '$lib/state/tried';
  import ValueField from '$lib/ui/ValueField.svelte';

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
  const shown = $derived<StripSend>(
    send ?? { to, tap: 'post_fader', level_db: -100, pan_percent: 0, mute: false },
  );
  /** With several rows chosen, the send of each changes, and keeps what else it is. */
  const strips = () => board.together(strip.id).filter((id) => id !== to);
  const edit = (change: Partial<StripSend>): Edit => ({
    kind: 'batch',
    edits: strips().map((id) => {
      const own = session.doc.strips.find((s) => s.id === id)?.sends.find((s) => s.to === to);
      return { kind: 'set_send', strips: [id], send: { ...(own ?? shown), ...change } };
    }),
  });
  const set = (change: Partial<StripSend>) => session.apply(edit(change));
  /** Only sends that are there can move together; where this one is new, all chosen rows get it. */
  const moving = () => (send ? strips() : [strip.id]);
  const level = $derived({
    ...triedTogether(session, moving, { what: 'send_db', to }, (level_db) => edit({ level_db })),
    ...(send ? {} : { oncommit: (db: number) => set({ level_db: db <= -99 ? -20 : db }) }),
  });
  const pans = $derived(
    triedTogether(session, moving, { what: 'send_pan_percent', to }, (pan_percent) => edit({ pan_percent })),
  );
  const taps: Record<SendTap, string> = { pre_fader: 'pre', post_fader: 'post' };
  const pan = (x: number) => (x === 0 ? 'C' : `${Math.abs(x).toFixed(0)} ${x < 0 ? 'L' : 'R'}`);
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
    {...level}
  />
  {#if send}
    <button
      class="hover:bg-chosen border-line w-9 rounded-sm border text-[11px]"
      aria-label="Send of {from} to {target}: {taps[shown.tap]} fader"
      title="Taken before or after the fader"
      onclick={() => set({ tap: shown.tap === 'pre_fader' ? 'post_fader' : 'pre_fader' })}
      >{taps[shown.tap]}</button
    >
    {#if !short}
      <ValueField
        label="Pan of the send of {from} to {target}"
        value={shown.pan_percent}
        {...range('pan_percent')}
        unit="%"
        format={pan}
        class="w-12!"
        {...pans}
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
        onclick={() => session.apply({ kind: 'remove_sends', strips: strips(), to })}>remove</button
      >
    {/if}
  {/if}
</div>
