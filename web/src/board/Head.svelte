<!-- The part of a row that is the same in every stage: glyph, name, mute, solo, level. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import Glyph from '$lib/ui/Glyph.svelte';
  import Meter from '$lib/ui/Meter.svelte';
  import NameField from '$lib/ui/NameField.svelte';

  interface Props {
    row: Row;
    ondragstart: () => void;
    ondragend: () => void;
  }
  let { row, ondragstart, ondragend }: Props = $props();
  const { session, player } = desktop();

  function rename(name: string) {
    session.apply(
      row.voice
        ? { kind: 'rename_voice', voice: row.voice.id, name }
        : { kind: 'rename_strip', strip: row.strip.id, name },
    );
  }
  const flip = (what: 'mute' | 'solo') =>
    session.apply({
      kind: 'set_strips',
      strips: [row.strip.id],
      change: { what, to: !row.strip[what] },
    });
</script>

<div class="flex w-(--row-head) shrink-0 items-center gap-2 pl-3">
  <span
    role="presentation"
    draggable={row.voice !== undefined}
    class={row.voice ? 'cursor-grab' : ''}
    title={row.voice ? 'Drag to another row' : undefined}
    {ondragstart}
    {ondragend}><Glyph kind={row.kind} /></span
  >
  <div class="min-w-0 flex-1">
    <NameField label="Name" value={row.name} onname={rename} />
    {#if row.shares.length > 0}
      <p class="text-second -mt-[3px] truncate text-[10px]">shares with {row.shares.join(', ')}</p>
    {/if}
  </div>
  {#each ['mute', 'solo'] as const as what (what)}
    {#if !(what === 'solo' && row.kind === 'main') && row.strip.kind !== 'trigger'}
      <button
        class="border-line h-[19px] w-[19px] shrink-0 rounded-sm border text-[11px] {row.strip[what]
          ? 'bg-ink text-panel border-ink font-semibold'
          : 'hover:bg-chosen'}"
        aria-pressed={row.strip[what]}
        aria-label="{what === 'mute' ? 'Mute' : 'Solo'} {row.name}"
        onclick={(event) => {
          event.stopPropagation();
          flip(what);
        }}>{what === 'mute' ? 'M' : 'S'}</button
      >
    {:else}<span class="w-[19px]"></span>{/if}
  {/each}
  <div class="w-(--row-meter) pr-2" style:opacity={row.strip.mute ? 0.4 : 1}>
    <Meter
      meters={player.meters}
      strip={row.strip.id}
      color="var(--{row.kind === 'main' ? 'ink' : row.kind})"
      label="{row.name} after fader"
    />
  </div>
</div>
