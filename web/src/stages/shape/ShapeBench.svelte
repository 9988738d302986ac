<!-- The chosen row's chain, and the chosen processor: its picture, its values, its key, and how it sounds without. -->
<script lang="ts">
  import { range } from '$lib/limits';
  import type { Param, ProcessorChange, Settings } from '$lib/api/types';
  import { dbOf } from '$lib/audio/meters.svelte';
  import { desktop } from '$lib/state/context';
  import Field from '$lib/ui/Field.svelte';
  import GaugeBar from '$lib/ui/GaugeBar.svelte';
  import KeyFields from '$lib/ui/KeyFields.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import ChainList from './ChainList.svelte';
  import DecayPicture from './DecayPicture.svelte';
  import EqualiserBands from './EqualiserBands.svelte';
  import EchoPicture from './EchoPicture.svelte';
  import FilterPicture from './FilterPicture.svelte';
  import History from './History.svelte';
  import HitPicture from './HitPicture.svelte';
  import { hz } from './pictures';
  import Transfer from './Transfer.svelte';
  import Without from '$lib/ui/Without.svelte';

  const { session, player, board } = desktop();
  const kinds = $derived(session.desk.kinds);
  const row = $derived(board.current);
  const strip = $derived(row?.strip);
  const color = $derived(row ? `var(--${row.kind === 'main' ? 'ink' : row.kind})` : 'var(--ink)');
  const name = $derived(strip ? session.nameOf(strip.id) : '');
  const chain = $derived(strip?.chain ?? []);
  const current = $derived(chain.find((p) => p.id === board.processor) ?? chain[0]);
  const kind = $derived(kinds.find((k) => k.default.kind === current?.settings.kind));
  const of = $derived(`the ${kind?.name.toLowerCase() ?? 'processor'} of ${name}`);

  const edit = (change: ProcessorChange) =>
    ({
      kind: 'set_processor',
      strip: strip?.id ?? 0,
      processor: current?.id ?? 0,
      change,
    }) as const;
  /** What a number does while it is moved, when it is let go, and when it is not meant. */
  const moved = (change: (to: number) => ProcessorChange) => ({
    onlive: (to: number) => session.try(edit(change(to))),
    oncommit: (to: number) => session.apply(edit(change(to))),
    oncancel: () => session.cancelLive(),
  });
  const value = (param: { name: string }) =>
    (current?.settings as unknown as Record<string, number | string>)[param.name];
  const withValue = (param: { name: string }, to: number | string): ProcessorChange => ({
    what: 'settings',
    to: { ...current?.settings, [param.name]: to } as Settings,
  });
  /** A step that suits the range: fine for small values that run by ratio. */
  const step = (param: Param) => {
    if (param.scale === 'ratio')
      return Math.max(param.max <= 20 ? 0.05 : 0.1, Math.round(Number(value(param)) * 5) / 100);
    return param.max - param.min > 4000
      ? 50
      : param.max - param.min > 400
        ? 5
        : param.max - param.min > 150
          ? 1
          : 0.5;
  };
  const digits = (param: Param) =>
    param.unit === 'samples' || param.unit === 'Hz' ? 0 : param.unit === 's' || param.unit === 'Q' ? 2 : 1;
  const top = $derived(0.49 * session.doc.header.sample_rate);
  const limited = $derived(
    (kind?.params ?? []).filter((p) => p.unit === 'Hz' && Number(value(p)) > top).map((p) => p.label),
  );

  // What stands in the bench is watched: its sound before and behind.
  $effect(() => {
    player.watch(strip?.id ?? 0, current?.id ?? 0);
    return () => player.watch(0, 0);
  });
  const reduction = $derived.by(() => {
    void player.meters.tick;
    return current ? player.meters.processor(current.id).reduction : 0;
  });
  /** Level before the processor, where it goes by it. */
  const level = $derived.by(() => {
    void player.meters.tick;
    if (!current || !strip || current.key) return undefined;
    const before = chain[chain.indexOf(current) - 1];
    const now = before ? player.meters.processor(before.id) : player.meters.level(strip.id, 'trimmed');
    return dbOf(Math.max(...now.peak)) + current.input_db;
  });
  const curved = ['compressor', 'gate', 'limiter', 'clipper', 'saturation'];
  const outlined = ['transient', 'clipper', 'saturation', 'limiter', 'crush', 'enhancer'];
  const ceiling = $derived(
    current?.settings.kind === 'clipper'
      ? current.settings.ceiling_dbfs
      : current?.settings.kind === 'limiter'
        ? current.settings.ceiling_dbtp
        : undefined,
  );
  const listens = $derived(
    kind?.takes_key &&
      (current?.settings.kind !== 'equaliser' ||
        current.key !== null ||
        current.settings.bands.some((b) => b.range_db !== 0)),
  );
</script>

{#if strip}
  <div
    class="grid h-full gap-6 {listens
      ? 'grid-cols-[220px_minmax(0,1fr)_260px]'
      : 'grid-cols-[220px_minmax(0,1fr)]'}"
  >
    <ChainList {strip} {name} {current} />
    {#if current && kind}
      <div class="min-h-0 overflow-auto">
        <div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
          <h2 class="font-semibold">{kind.name}</h2>
          {#if kind.reduces}
            <span
              class="bg-faint relative h-2 w-32"
              role="meter"
              aria-label="Reduction"
              aria-valuemin={0}
              aria-valuemax={24}
              aria-valuenow={reduction}
              aria-valuetext="{reduction.toFixed(1)} dB"
            >
              <span
                class="bg-look absolute inset-y-0 right-0"
                style:width="{Math.min(100, (reduction / 24) * 100)}%"
              ></span>
            </span>
            <span class="figures text-second w-16"
              >{reduction > 0.05 ? `-${reduction.toFixed(1)} dB` : '0.0 dB'}</span
            >
          {/if}
          <Without {strip} processor={current} />
          <Without {strip} />
          <GaugeBar />
        </div>
        {#if kind.bands && current.settings.kind === 'equaliser'}
          <EqualiserBands
            settings={current.settings}
            info={kind.bands}
            {strip}
            {color}
            ontry={(to) => session.try(edit({ what: 'settings', to }))}
            onset={(to) => session.apply(edit({ what: 'settings', to }))}
            oncancel={() => session.cancelLive()}
          />
        {:else}
          <div class="mb-2 flex items-start gap-4">
            {#if curved.includes(current.settings.kind)}
              <div class="shrink-0"><Transfer settings={current.settings} {level} {of} /></div>
            {/if}
            {#if outlined.includes(current.settings.kind)}
              <HitPicture processor={current} {color} {of} {ceiling} />
            {/if}
            {#if kind.reduces && current.settings.kind !== 'limiter'}
              <History {strip} processor={current} {color} />
            {/if}
            {#if current.settings.kind === 'reverb'}
              <DecayPicture reverb={current.settings} {of} />
            {:else if current.settings.kind === 'delay'}
              <EchoPicture delay={current.settings} {of} />
            {:else if current.settings.kind === 'envelope_filter'}
              <FilterPicture settings={current.settings} {of} />
            {/if}
          </div>
        {/if}
        <div class="grid grid-cols-[repeat(auto-fill,minmax(180px,1fr))] gap-x-8 gap-y-1">
          {#each kind.params as param (param.name)}
            <Field
              name={param.label}
              label="{param.label} of {of}"
              value={Number(value(param))}
              min={param.min}
              max={param.max}
              unit={param.unit}
              reset={param.default}
              step={step(param)}
              digits={digits(param)}
              offAt={param.unit === 'Hz' && param.min === 0 ? 0 : undefined}
              {...moved((to) => withValue(param, to))}
            />
          {/each}
          {#each kind.choices as choice (choice.name)}
            <Picker
              named
              label={choice.label}
              value={String(value(choice))}
              options={choice.options.map(([option, text]) => ({ value: option, text }))}
              onpick={(to) => session.apply(edit(withValue(choice, to)))}
            />
          {/each}
          <Field
            name="Input"
            label="Input gain of {of}"
            value={current.input_db}
            {...range('slot_db')}
            step={0.5}
            unit="dB"
            {...moved((to) => ({ what: 'input_db', to }))}
          />
          <Field
            name="Output"
            label="Output gain of {of}"
            value={current.output_db}
            {...range('slot_db')}
            step={0.5}
            unit="dB"
            {...moved((to) => ({ what: 'output_db', to }))}
          />
          <Field
            name="Mix"
            label="Mix of {of}"
            value={current.mix_percent}
            {...range('mix_percent')}
            digits={0}
            reset={100}
            unit="%"
            {...moved((to) => ({ what: 'mix_percent', to }))}
          />
        </div>
        {#if limited.length > 0}
          <p class="text-wrong mt-1">{limited.join(', ')} held at {hz(top)}, the top of this rate.</p>
        {/if}
      </div>
      {#if listens}
        <div class="min-h-0 overflow-auto">
          <h2 class="mb-2 font-semibold">What it listens to</h2>
          <KeyFields {strip} processor={current} />
        </div>
      {/if}
    {/if}
  </div>
{/if}
