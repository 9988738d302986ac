<!-- Every station of the chosen row while playing, in the order of the signal: where it got hot. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import { range } from '$lib/limits';
  import type { LaneTarget, PanLaw, TargetBy } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Field from '$lib/ui/Field.svelte';
  import Meter from '$lib/ui/Meter.svelte';
  import MeterSurface from '$lib/ui/MeterSurface.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import EqualRows from './EqualRows.svelte';
  import { TARGETS } from './targets';

  const { session, player, board } = desktop();
  const row = $derived(board.current);
  const strip = $derived(row?.strip);
  const header = $derived(session.header);
  const color = $derived(row ? `var(--${row.kind === 'main' ? 'ink' : row.kind})` : 'var(--ink)');
  const laws: { value: PanLaw; text: string }[] = [
    { value: 'minus3', text: '-3 dB, constant power' },
    { value: 'minus_4_5', text: '-4.5 dB' },
    { value: 'minus6', text: '-6 dB' },
    { value: 'zero', text: '0 dB, balance' },
  ];
  const setTargets = (change: Partial<typeof header.targets>) =>
    session.apply({
      kind: 'set_header',
      header: { ...header, targets: { ...header.targets, ...change } },
    });
  const setOwn = (to: LaneTarget | null) =>
    strip && session.apply({ kind: 'set_strips', strips: [strip.id], change: { what: 'target', to } });
  const by = Object.entries(TARGETS).map(([value, { text }]) => ({ value: value as TargetBy, text }));
  const own = $derived(strip?.target);
</script>

{#if row && strip}
  <div class="grid grid-cols-[minmax(0,1fr)_320px] gap-8">
    <div>
      <EqualRows />
      <h2 class="mb-1 font-semibold">{row.name}, station by station</h2>
      <MeterSurface meters={player.meters} class="max-w-2xl"
        ><ol class="grid gap-[3px]" aria-label="Stations of {row.name}">
          {#snippet line(name: string, station: 'source' | 'trimmed' | 'out' | undefined, processor?: number)}
            <li class="flex items-center gap-3">
              <span class="text-second w-44 truncate">{name}</span>
              <div class="flex-1">
                <Meter
                  meters={player.meters}
                  strip={strip.id}
                  {station}
                  {processor}
                  {color}
                  label="{row.name}: {name}"
                />
              </div>
            </li>
          {/snippet}
          {@render line('source', 'source')}
          {@render line('after trim', 'trimmed')}
          {#each strip.chain as processor, at (processor.id)}
            {@render line(
              `${at + 1}. ${session.desk.nameOf(processor)}${processor.on ? '' : ' (off)'}`,
              undefined,
              processor.id,
            )}
          {/each}
          {@render line('after fader', 'out')}
        </ol></MeterSurface
      >
    </div>
    <div class="grid content-start gap-1 pr-4">
      <h2 class="font-semibold">Targets</h2>
      <Picker
        named
        label="Lanes"
        value={header.targets.lane.by}
        options={by}
        onpick={(to) => setTargets({ lane: { ...header.targets.lane, by: to } })}
      />
      <Field
        name="Lanes after trim"
        label="Target of lanes after trim"
        value={header.targets.lane.db}
        {...range('lane_target_db')}
        step={0.5}
        reset={-12}
        unit={TARGETS[header.targets.lane.by].unit}
        oncommit={(db) => setTargets({ lane: { ...header.targets.lane, db } })}
      />
      <Field
        name="Sum under"
        label="Target of the sum"
        value={header.targets.sum_dbtp}
        {...range('sum_target_dbtp')}
        step={0.5}
        reset={-6}
        unit="dBTP"
        oncommit={(sum_dbtp) => setTargets({ sum_dbtp })}
      />
      {#if strip.kind === 'channel'}
        <label class="mt-1 flex items-center gap-2">
          <CheckMark checked={own !== null} onchange={(to) => setOwn(to ? header.targets.lane : null)} />
          {session.nameOf(strip.id)} has a target of its own
        </label>
        {#if own}
          <Picker named label="By" value={own.by} options={by} onpick={(to) => setOwn({ ...own, by: to })} />
          <Field
            name="After trim"
            label="Target of {row.name} after trim"
            value={own.db}
            {...range('lane_target_db')}
            step={0.5}
            reset={-12}
            unit={TARGETS[own.by].unit}
            oncommit={(db) => setOwn({ ...own, db })}
          />
        {/if}
      {/if}
      <div class="mt-2">
        <Picker
          label="Pan law"
          named
          value={header.pan_law}
          options={laws}
          onpick={(pan_law) => session.apply({ kind: 'set_header', header: { ...header, pan_law } })}
        />
      </div>
    </div>
  </div>
{/if}
