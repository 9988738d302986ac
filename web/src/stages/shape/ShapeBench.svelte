<!-- The chosen row's chain, and the chosen processor with its values, its key and what it takes away. -->
<script lang="ts">
  import type { Param, Processor, ProcessorChange, Settings } from '$lib/api/types';
  import { stripName } from '$lib/state/board.svelte';
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Field from '$lib/ui/Field.svelte';
  import KeyFields from '$lib/ui/KeyFields.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import EqualiserBands from './EqualiserBands.svelte';

  const { session, player, board } = desktop();
  const kinds = $derived(session.desk.kinds);
  const strip = $derived(board.current?.strip);
  const name = $derived(strip ? stripName(session.doc, strip.id) : '');
  const chain = $derived(strip?.chain ?? []);
  const current = $derived(chain.find((p) => p.id === board.processor) ?? chain[0]);
  const kind = $derived(kinds.find((k) => k.default.kind === current?.settings.kind));
  const nameOf = (p: Processor) =>
    kinds.find((k) => k.default.kind === p.settings.kind)?.name ?? p.settings.kind;
  const strips = $derived([...new Set(board.chosen.map((r) => r.strip.id))].filter((id) => id !== strip?.id));

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
    if (param.scale === 'ratio') return Math.max(0.1, Math.round(Number(value(param)) * 5) / 100);
    return param.max - param.min > 400 ? 5 : param.max - param.min > 150 ? 1 : 0.5;
  };
  const digits = (param: Param) => (param.unit === 'samples' || param.unit === 'Hz' ? 0 : 1);

  function add(at: number) {
    const chosen = kinds[at];
    if (!strip || !chosen) return;
    session.apply({
      kind: 'add_processor',
      strips: [strip.id, ...strips],
      settings: chosen.default,
      key: null,
      at: null,
    });
    board.processor = board.current?.strip.chain.at(-1)?.id;
  }
  let dragged = $state<number>();
  function drop(to: number) {
    if (dragged !== undefined && strip)
      session.apply({ kind: 'move_processor', strip: strip.id, processor: dragged, to });
    dragged = undefined;
  }
  function chainKey(event: KeyboardEvent, at: number) {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const processor = chain[at];
    if (!by || !event.altKey || !processor || !strip) return;
    event.preventDefault();
    event.stopPropagation();
    const to = Math.max(0, Math.min(chain.length - 1, at + by));
    session.apply({ kind: 'move_processor', strip: strip.id, processor: processor.id, to });
  }
  const reduction = $derived.by(() => {
    void player.meters.tick;
    return current ? player.meters.processor(current.id).reduction : 0;
  });
</script>

<div
  class="grid h-full gap-6 {kind?.takes_key
    ? 'grid-cols-[220px_minmax(0,1fr)_290px]'
    : 'grid-cols-[220px_minmax(0,1fr)]'}"
>
  <div class="flex min-h-0 flex-col gap-2">
    <h2 class="truncate font-semibold">Chain of {name}</h2>
    <ol class="min-h-0 flex-1 overflow-auto" aria-label="Chain of {name}">
      {#each chain as processor, at (processor.id)}
        <li
          class="flex items-center gap-2 {dragged !== undefined && dragged !== processor.id
            ? 'border-line border-t'
            : ''}"
          draggable="true"
          ondragstart={() => (dragged = processor.id)}
          ondragend={() => (dragged = undefined)}
          ondragover={(event) => event.preventDefault()}
          ondrop={() => drop(at)}
        >
          <input
            type="checkbox"
            style:accent-color="var(--ink)"
            aria-label="{nameOf(processor)} {at + 1} on"
            checked={processor.on}
            onchange={(event) => {
              board.processor = processor.id;
              session.apply({
                kind: 'set_processor',
                strip: strip?.id ?? 0,
                processor: processor.id,
                change: { what: 'on', to: event.currentTarget.checked },
              });
            }}
          />
          <button
            class="min-w-0 flex-1 cursor-grab truncate rounded-sm px-1 py-[3px] text-left {current?.id ===
            processor.id
              ? 'bg-chosen font-semibold'
              : 'hover:bg-chosen'}"
            title="Drag, or Alt with the arrow keys, to move it"
            onkeydown={(event) => chainKey(event, at)}
            onclick={() => (board.processor = processor.id)}>{at + 1}. {nameOf(processor)}</button
          >
          <button
            class="text-second underline"
            aria-label="Remove {nameOf(processor)} {at + 1}"
            onclick={() =>
              session.apply({
                kind: 'remove_processors',
                strip: strip?.id ?? 0,
                processors: [processor.id],
              })}>remove</button
          >
        </li>
      {:else}
        <li class="text-second">No processors yet. Add the first one below.</li>
      {/each}
    </ol>
    <div class="flex flex-wrap gap-2">
      <Picker
        label="Add a processor"
        value={-1}
        options={[{ value: -1, text: 'Add …' }, ...kinds.map((k, at) => ({ value: at, text: k.name }))]}
        onpick={add}
      />
      <Button
        disabled={chain.length === 0 || strips.length === 0}
        title="Onto the other chosen rows, behind what they have"
        onclick={() =>
          strip &&
          session.apply({ kind: 'copy_chain', from: strip.id, processors: [], to: strips, replace: false })}
        >Copy to {strips.length} {strips.length === 1 ? 'row' : 'rows'}</Button
      >
    </div>
  </div>
  {#if current && kind}
    <div class="min-h-0 overflow-auto">
      <h2 class="mb-2 flex items-center gap-3">
        <b>{kind.name}</b>
        {#if kind.takes_key}
          <span
            class="bg-faint relative h-2 w-40"
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
          <span class="figures text-second"
            >{reduction > 0.05 ? `-${reduction.toFixed(1)} dB` : '0.0 dB'}</span
          >
        {/if}
      </h2>
      {#if kind.bands && current.settings.kind === 'equaliser'}
        <EqualiserBands
          settings={current.settings}
          info={kind.bands}
          of={name}
          ontry={(to) => session.try(edit({ what: 'settings', to }))}
          onset={(to) => session.apply(edit({ what: 'settings', to }))}
          oncancel={() => session.cancelLive()}
        />
      {/if}
      <div class="grid grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-x-8 gap-y-1">
        {#each kind.params as param (param.name)}
          <Field
            name={param.label}
            label="{param.label} of the {kind.name.toLowerCase()} of {name}"
            value={Number(value(param))}
            min={param.min}
            max={param.max}
            unit={param.unit}
            reset={param.default}
            step={step(param)}
            digits={digits(param)}
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
          label="Input gain of the {kind.name.toLowerCase()} of {name}"
          value={current.input_db}
          min={-60}
          max={24}
          step={0.5}
          unit="dB"
          {...moved((to) => ({ what: 'input_db', to }))}
        />
        <Field
          name="Output"
          label="Output gain of the {kind.name.toLowerCase()} of {name}"
          value={current.output_db}
          min={-60}
          max={24}
          step={0.5}
          unit="dB"
          {...moved((to) => ({ what: 'output_db', to }))}
        />
        <Field
          name="Mix"
          label="Mix of the {kind.name.toLowerCase()} of {name}"
          value={current.mix_percent}
          min={0}
          max={100}
          digits={0}
          reset={100}
          unit="%"
          {...moved((to) => ({ what: 'mix_percent', to }))}
        />
      </div>
    </div>
    {#if kind.takes_key && strip}
      <div class="min-h-0 overflow-auto">
        <h2 class="mb-2 font-semibold">What it listens to</h2>
        <KeyFields {strip} processor={current} />
      </div>
    {/if}
  {/if}
</div>
