<!-- The chosen return: what its compressor does against the beat, and what raising it brings to main. -->
<script lang="ts">
  import { setProcessor } from '$lib/state/edits';
  import type { Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { alignmentSaid, backSaid, feedersOf, feedSaid } from './path-words';
  import Field from '$lib/ui/Field.svelte';
  import HearingBar from '$stages/ui/HearingBar.svelte';
  import { range } from '$lib/limits';
  import { tried } from '$lib/state/tried';
  import { noteWithMs } from '$lib/state/notes';
  import SendFields from '../route/SendFields.svelte';
  import ProcessorFields from '../shape/ProcessorFields.svelte';
  import Transfer from '../shape/Transfer.svelte';
  import BlendPanel from './BlendPanel.svelte';
  import ChainLine from './ChainLine.svelte';
  import CombPicture from './CombPicture.svelte';
  import Lies from './Lies.svelte';
  import PressPicture from './PressPicture.svelte';

  let { strip }: { strip: Strip } = $props();
  const { session, paths } = desktop();
  const name = $derived(session.nameOf(strip.id));
  const feeders = $derived(feedersOf(session.doc, strip.id));
  const bench = $derived(paths.bench);
  const press = $derived(bench?.press ?? undefined);
  const lies = $derived(paths.of(strip.id));
  const processor = $derived(strip.chain.find((p) => p.on && p.settings.kind === 'compressor'));
  const compressor = $derived(processor?.settings.kind === 'compressor' ? processor.settings : undefined);
  const kind = $derived(session.desk.kinds.find((k) => k.default.kind === 'compressor'));
  const VIEWS = [
    ['press', 'Reduction'],
    ['comb', 'With the dry sound'],
    ['values', 'Compressor'],
    ['sends', 'Sends'],
  ] as const;
  let wanted = $state<(typeof VIEWS)[number][0]>();
  const view = $derived(wanted ?? (processor ? 'press' : 'comb'));
  const release = $derived(
    compressor &&
      (compressor.release_in === 'ms'
        ? `${compressor.release_ms.toFixed(0)} ms`
        : noteWithMs(
            session.desk.notes,
            compressor.release_in,
            compressor.release_in,
            session.header.tempo_bpm,
          )),
  );
  const drive = $derived(
    processor && tried(session, (to) => setProcessor(strip.id, processor.id, { what: 'input_db', to })),
  );
</script>

<div class="flex h-full min-h-0 flex-col gap-1">
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
    <h2 class="font-semibold">{name}</h2>
    <span class="text-second">{feedSaid(feeders, strip.id, (id) => session.nameOf(id))}</span>
    {#if lies}<Lies readings={[{ strip: strip.id, alignment: lies }]} of={name} said />{/if}
    <span class="flex-1"></span>
    <HearingBar hearing={paths} />
  </div>
  <div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(330px,440px)] gap-6">
    <div class="flex min-h-0 min-w-0 flex-col">
      <p
        class="mb-1 flex flex-wrap items-center gap-x-3 text-[12px]"
        role="group"
        aria-label="What the left shows"
      >
        {#each VIEWS as [id, text] (id)}
          <button
            class="rounded-sm px-1 {view === id ? 'bg-chosen' : 'text-second hover:bg-chosen'}"
            aria-pressed={view === id}
            onclick={() => (wanted = id)}>{text}</button
          >
        {/each}
        <span class="flex-1"></span>
        <ChainLine {strip} />
      </p>
      {#if view === 'press'}
        <PressPicture {press} budget={compressor?.budget_db ?? 0} of="the compressor of {name}" />
        {#if processor && compressor && drive}
          <div class="mt-1 flex flex-wrap items-center gap-x-5 gap-y-1">
            <div class="w-[170px]">
              <Field
                name="Drive"
                label="Drive into the compressor of {name}"
                value={processor.input_db}
                {...range('slot_db')}
                step={0.5}
                unit="dB"
                {...drive}
              />
            </div>
            <div class="w-[170px]">
              <Field
                name={compressor.direction === 'up' ? 'Lifts at most' : 'Deepest'}
                label="Deepest reduction of {name}: sets the drive"
                value={press ? Math.round(10 * Math.abs(press.deepest_db)) / 10 : 0}
                min={0.5}
                max={40}
                step={0.5}
                unit="dB"
                reset={10}
                oncommit={(db) => void paths.reach({ goal: 'deepest', db })}
              />
            </div>
            {#if compressor.direction === 'down'}
              <div class="w-[230px]">
                <Field
                  name="Back within"
                  label="Back within so much of a beat: sets the release of {name}"
                  value={press?.back_beats ? Math.round(100 * press.back_beats) / 100 : 0}
                  min={0.05}
                  max={8}
                  step={0.05}
                  digits={2}
                  unit="beat"
                  reset={0.8}
                  format={(x) => (press?.back_beats ? x.toFixed(2) : '–')}
                  behind="beat"
                  oncommit={(beats) => void paths.reach({ goal: 'back', beats })}
                />
              </div>
              <span class="text-second" data-testid="back"
                >{press ? `half is gone within ${backSaid(press.back_beats)}` : ''}{press &&
                press.hits > press.back
                  ? `, ${press.back} of ${press.hits} hits`
                  : ''}; release {release}</span
              >
            {/if}
          </div>
        {/if}
      {:else if view === 'comb'}
        <CombPicture
          comb={bench?.comb ?? undefined}
          first="the dry sound"
          second={name}
          off={lies?.verdict === 'off'}
        />
        {#if lies?.verdict === 'space'}
          <p class="text-second">{alignmentSaid(lies).text}: it is not held against the dry sound.</p>
        {/if}
      {:else if view === 'values'}
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div
          class="min-h-0 flex-1 overflow-auto pr-3"
          tabindex="0"
          role="region"
          aria-label="Compressor of {name}"
        >
          {#if processor && kind}
            <div class="flex gap-6">
              <div class="w-[360px]">
                <ProcessorFields {strip} {processor} {kind} of="the compressor of {name}" />
              </div>
              <div class="h-[200px]">
                <Transfer settings={processor.settings} level={undefined} of="the compressor of {name}" />
              </div>
            </div>
          {:else}
            <p class="text-second">It has no compressor that is on.</p>
          {/if}
        </div>
      {:else}
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <ul class="min-h-0 flex-1 overflow-auto" tabindex="0" aria-label="Sends to {name}">
          {#each feeders as feeder (feeder.id)}
            <li class="flex items-center gap-3">
              <span class="w-32 truncate">{session.nameOf(feeder.id)}</span>
              <SendFields strip={feeder} to={strip.id} />
            </li>
          {:else}
            <li class="text-second">Nothing feeds it. Press · in its column above, or type a level there.</li>
          {/each}
        </ul>
      {/if}
    </div>
    <BlendPanel {strip} {name} />
  </div>
</div>
