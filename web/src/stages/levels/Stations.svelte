<!-- Levels along a row in the order of the signal, each processor's as well, and the values that make them. -->
<script lang="ts">
  import { range } from '$lib/limits';
  import type { StripChange } from '$lib/api/types';
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { triedTogether } from '$lib/state/tried';
  import Meter from '$lib/ui/Meter.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';
  import { panText } from '$lib/ui/typed';
  import { STATION_COLUMNS, VALUE_COLUMN } from './columns';

  let { row }: { row: Row } = $props();
  const { session, player, board } = desktop();
  const color = $derived(`var(--${row.kind === 'main' ? 'ink' : row.kind})`);

  /** With several rows chosen, a value moves on all of them. */
  const strips = () => board.together(row.strip.id);
  const set = (change: StripChange) => session.apply({ kind: 'set_strips', strips: strips(), change });
  /** What a number of the strip does: chosen rows keep their balance. */
  const moved = (what: 'trim_db' | 'pan_percent' | 'width_percent' | 'fader_db') =>
    triedTogether(session, strips, { what }, (to) => ({
      kind: 'set_strips',
      strips: strips(),
      change: { what, to },
    }));
  const [trim, panned, width, fader] = [
    moved('trim_db'),
    moved('pan_percent'),
    moved('width_percent'),
    moved('fader_db'),
  ];
  /** Marked after trim, where it is given as a peak. */
  const target = $derived.by(() => {
    if (row.strip.kind !== 'channel') return undefined;
    const wanted = row.strip.target ?? session.header.targets.lane;
    return wanted.by === 'peak' || wanted.by === 'true_peak' ? wanted.db : undefined;
  });
  const inverted = $derived(row.strip.polarity === 'inverted');
</script>

<!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events -->
<div class="flex min-w-0 flex-1 items-center" onclick={(event) => event.stopPropagation()}>
  {#snippet station(name: string, at: 'source' | 'trimmed' | 'out')}
    <Meter
      meters={player.meters}
      strip={row.strip.id}
      station={at}
      target={at === 'trimmed' ? target : undefined}
      {color}
      label="{row.name} {name}"
    />
  {/snippet}
  <div class={STATION_COLUMNS.source}>{@render station('source', 'source')}</div>
  <div class={STATION_COLUMNS.trimmed}>{@render station('after trim', 'trimmed')}</div>
  <div class="{STATION_COLUMNS.chain} flex items-center gap-1">
    {#each row.strip.chain as processor, at (processor.id)}
      <div class="max-w-[max(80px,6.25vw)] min-w-2 flex-1 {processor.on ? '' : 'opacity-40'}">
        <Meter
          meters={player.meters}
          strip={row.strip.id}
          processor={processor.id}
          {color}
          figure={false}
          label="{row.name} after {at + 1}. {session.desk.nameOf(processor)}"
        />
      </div>
    {/each}
  </div>
  <div class={STATION_COLUMNS.out}>{@render station('after fader', 'out')}</div>
  <div class="{VALUE_COLUMN} flex justify-end">
    <ValueField
      label="Trim of {row.name}"
      value={row.strip.trim_db}
      {...range('trim_db')}
      offAt={-100}
      step={0.5}
      unit="dB"
      {...trim}
    />
  </div>
  <div class="{VALUE_COLUMN} flex justify-end">
    <button
      class="figures rounded-sm px-2 {inverted ? 'bg-ink text-panel' : 'hover:bg-chosen'}"
      aria-pressed={inverted}
      aria-label="Invert polarity of {row.name}"
      title="Polarity"
      onclick={() => set({ what: 'polarity', to: inverted ? 'normal' : 'inverted' })}
      >{inverted ? '−' : '+'}</button
    >
  </div>
  <div class="{VALUE_COLUMN} flex justify-end">
    <ValueField
      label="Pan of {row.name}"
      value={row.strip.pan_percent}
      {...range('pan_percent')}
      unit="%"
      format={panText}
      {...panned}
    />
  </div>
  <div class="{VALUE_COLUMN} flex justify-end">
    <ValueField
      label="Width of {row.name}"
      value={row.strip.width_percent}
      {...range('width_percent')}
      unit="%"
      reset={100}
      idle={board.widthIdle(row.strip.id)}
      format={(x) => `${x.toFixed(0)} %`}
      {...width}
    />
  </div>
  <div class="{VALUE_COLUMN} flex justify-end">
    <ValueField
      label="Fader of {row.name}"
      value={row.strip.fader_db}
      {...range('fader_db')}
      offAt={-100}
      step={0.5}
      unit="dB"
      class="font-semibold"
      {...fader}
    />
  </div>
</div>
