<!-- The chosen ducker: what it hears and does over the loop, hit by hit, and what makes it do so. -->
<script lang="ts">
  import { setSettings } from '$lib/state/edits';
  import { untrack } from 'svelte';
  import type { Processor, Settings, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { ended } from '$lib/state/ended';
  import Field from '$lib/ui/Field.svelte';
  import GaugeBar from '$stages/ui/GaugeBar.svelte';
  import HearingBar from '$stages/ui/HearingBar.svelte';
  import KeyFields from '$stages/ui/KeyFields.svelte';
  import Without from '$stages/ui/Without.svelte';
  import ProcessorFields from '../shape/ProcessorFields.svelte';
  import BandFields from './BandFields.svelte';
  import DuckPicture from './DuckPicture.svelte';
  import { ducks as isDucker, keyName as nameOfKey, sourcesOf } from '$lib/state/duckers';
  import Picker from '$lib/ui/Picker.svelte';
  import { depthSaid, exaggerated, inOctaves, recovery } from './matrix';
  import RoomPanel from './RoomPanel.svelte';
  import TriggerFields from './TriggerFields.svelte';
  import { change, isSilent, lufs, peaks } from './spectra';

  const { session, board, player, ducks, gauge } = desktop();
  const { reduces } = ducks;
  const all = $derived(
    session.doc.strips.flatMap((strip) =>
      strip.chain.filter((p) => isDucker(reduces, p)).map((processor) => ({ strip, processor })),
    ),
  );
  const current = $derived(
    all.find(({ processor }) => processor.id === board.ducker) ??
      all.find(({ strip }) => strip.id === board.current?.strip.id) ??
      all[0],
  );
  const kind = $derived(session.desk.kinds.find((k) => k.default.kind === current?.processor.settings.kind));
  const keyName = $derived(current ? nameOfKey(current.processor, (strip) => session.nameOf(strip)) : '');
  /** Triggers that it goes by. */
  const triggers = $derived.by(() => {
    const sources = current ? sourcesOf(current.processor) : [];
    const ids = session.doc.strips
      .filter((s) => s.kind === 'trigger' && sources.includes(s.id))
      .map((s) => s.id);
    return session.doc.voices.filter((v) => ids.includes(v.channel));
  });
  const became = $derived(current && session.desk.duckKind(current.processor.settings));
  const pair = $derived(current && ducks.pairOf(current.processor.id));
  /** Whether nobody hears what it goes by: triggers alone. */
  const silentKey = $derived(
    triggers.length > 0 &&
      current !== undefined &&
      sourcesOf(current.processor).every((id) => triggers.some((v) => v.channel === id)),
  );
  let making = $state(false);
  $effect(() => {
    const id = current?.processor.id;
    untrack(() => (ducks.focus = id));
  });
  const takes = $derived(current !== undefined && player.listening === current.processor.id && player.taken);
  // Nobody hears what is taken away once it is out of sight.
  $effect(() => {
    const [at, id] = [current?.strip.id ?? 0, current?.processor.id];
    return ended(() => player.taken && player.listening === id && player.listen(at, undefined));
  });
  /** How loud both together may be over the key alone, in dB. */
  let over = $state(1);
  let by = $state<'peak' | 'average'>('peak');
  const name = $derived(current ? session.nameOf(current.strip.id) : '');
  const ducker = $derived(current && ducks.of(current.processor.id));
  const beingSet = $derived(current !== undefined && ducks.sets(current.processor.id));
  const waves = $derived(current && ducks.wavesOf(current.processor.id));
  const said = $derived(ducker && recovery(ducker));
  const tones = { good: 'text-good', look: 'text-look', second: 'text-second' };

  // Heard again a moment after the last change, as long as somebody looks.
  const CALM_MS = 250;
  $effect(() => {
    void [session.settledDoc, board.loopStart, board.loopBars, gauge.part, ducks.focus, beingSet];
    if (all.length === 0 || ducks.whole) return;
    const timer = setTimeout(() => void untrack(() => ducks.listen()), CALM_MS);
    return () => clearTimeout(timer);
  });

  $effect(() => ended(() => ducks.leave()));

  const set = (strip: Strip, processor: Processor, to: Settings) =>
    setSettings(session.settledDoc, strip.id, processor.id, to);
  /** As deep as it goes, while a button is held; nothing of it stays. */
  let exaggerating = $state(false);
  function exaggerate(on: boolean) {
    if (on === exaggerating || (on && !current)) return;
    exaggerating = on;
    if (current && on)
      session.try(set(current.strip, current.processor, exaggerated(current.processor.settings)));
    else session.cancelLive();
  }
  $effect(() => ended(() => exaggerate(false)));
  const holds = (event: KeyboardEvent) => event.key === ' ' || event.key === 'Enter';
  const depth = $derived(ducker?.figures.depth_db ?? 0);
  /** Of a filter, depth is told in octaves and counted in semitones. */
  const per = $derived(current && inOctaves(current.processor.settings) ? 12 : 1);
  const copies = $derived(
    board.strips.filter((id) => {
      const strip = session.doc.strips.find((s) => s.id === id);
      return id !== current?.strip.id && strip !== undefined && strip.kind !== 'trigger';
    }),
  );
</script>

{#if making}
  <div class="flex items-start gap-6">
    <RoomPanel onclose={() => (making = false)} />
    <GaugeBar />
  </div>
{:else if !current || !kind}
  <p class="text-second max-w-xl">
    Nothing is ducked yet. Add a key above, then press + in the row that shall make room for it: it starts 6
    dB deep and back before the next hit, as far as the loop lets it. Chosen rows are ducked together.
  </p>
  <p class="mt-3 flex gap-3">
    <button class="border-ink hover:bg-chosen rounded-md border px-2 py-[2px]" onclick={() => (making = true)}
      >Make room …</button
    >
    <GaugeBar />
  </p>
{:else}
  {@const { strip, processor } = current}
  <div class="flex h-full min-h-0 flex-col">
    <div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
      <h2 class="font-semibold">
        {keyName}
        {sourcesOf(processor).length > 1 ? 'duck' : 'ducks'}
        {name}
      </h2>
      <Picker
        label="Kind of the ducker"
        value={became ?? 'whole'}
        options={session.desk.duckKinds.map((k) => ({ value: k.kind, text: k.name }))}
        onpick={(to) => void ducks.become(processor.id, to)}
      />
      <button
        class="hover:bg-chosen border-ink rounded-md border px-2 py-[2px]"
        onclick={() => (making = true)}>Make room …</button
      >
      {#if beingSet}
        <span class="text-second" role="status">being set …</span>
      {:else if ducker && said}
        <span
          class="figures {ducks.fresh ? '' : 'text-second'}"
          title={ducks.fresh ? undefined : 'As it was heard before the last change'}
          >{depthSaid(depth, processor.settings)}</span
        >
        <span class="figures text-second"
          >on average {depthSaid(ducker.figures.average_db, processor.settings)}</span
        >
        <span class={tones[ducks.fresh ? said.tone : 'second']} title="Back: within 1 dB of where it was"
          >{said.text}</span
        >
      {/if}
      <span class="flex-1"></span>
      <HearingBar hearing={ducks} />
      <Without {strip} {processor} />
    </div>
    {#if pair}
      <p class="text-second figures mb-1 flex flex-wrap gap-x-4 text-[11px]!" data-testid="pair">
        <span
          >{pair.near ? 'about ' : ''}{silentKey ? name : 'both together'}
          {peaks(pair.peak_dbfs)}, {lufs(pair.loudness_lufs[0])} to {lufs(pair.loudness_lufs[1])}</span
        >
        {#if !silentKey && !isSilent(pair.key_peak_dbfs)}<span
            >{keyName} alone {pair.key_peak_dbfs.toFixed(1)} dBFS</span
          >{/if}
        <span>{name} loses {pair.lost_db.toFixed(1)} dB</span>
        {#if pair.overlap_percent}<span>overlap {change(pair.overlap_percent, 0, '%')}</span>{/if}
      </p>
    {/if}
    <div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(250px,300px)] gap-6">
      <DuckPicture {strip} {processor} {ducker} {waves} {pair} {keyName} {name} />
      <div class="min-h-0 overflow-auto pr-3">
        <Field
          name="Depth"
          label="Depth of {keyName} on {name}"
          value={Math.round((10 * depth) / per) / 10}
          min={0}
          max={per === 1 ? 60 : 8}
          step={per === 1 ? 0.5 : 0.1}
          unit={per === 1 ? 'dB' : 'oct'}
          reset={per === 1 ? 6 : 3}
          {...ducker && !beingSet ? {} : { format: () => '…' }}
          oncommit={(to) => void ducks.reach(processor.id, { goal: 'depth', db: to * per })}
        />
        <p class="my-1.5 flex flex-wrap gap-2">
          {#if became !== 'shape' && became !== 'gate' && became !== 'expander'}
            <button
              class="border-ink hover:bg-chosen rounded-md border px-2 py-[2px]"
              title="The longest release that is back, to within 1 dB, before every next hit"
              onclick={() => void ducks.reach(processor.id, { goal: 'recovery' })}
              >Back before the next hit</button
            >
          {/if}
          <button
            class="border-ink rounded-md border px-2 py-[2px] {exaggerating
              ? 'bg-ink text-panel'
              : 'hover:bg-chosen'}"
            aria-pressed={exaggerating}
            title="As deep as it goes while this is held; nothing of it is kept"
            onpointerdown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              exaggerate(true);
            }}
            onpointerup={() => exaggerate(false)}
            onpointercancel={() => exaggerate(false)}
            onblur={() => exaggerate(false)}
            onkeydown={(event) => {
              if (!holds(event)) return;
              event.preventDefault();
              event.stopPropagation();
              exaggerate(true);
            }}
            onkeyup={(event) => holds(event) && exaggerate(false)}>Hold to exaggerate</button
          >
          <button
            class="border-ink rounded-md border px-2 py-[2px] {takes
              ? 'bg-ink text-panel'
              : 'hover:bg-chosen'}"
            aria-pressed={takes}
            title="What {name} loses, alone"
            onclick={() => player.listen(strip.id, takes ? undefined : processor.id, true)}
            >Listen to what is taken away</button
          >
        </p>
        {#if processor.key && !silentKey}
          <Field
            name="Both over the key alone"
            label="Both together over {keyName} alone"
            value={over}
            min={-6}
            max={12}
            step={0.5}
            unit="dB"
            reset={1}
            oncommit={(db) => (over = db)}
          />
          <p class="my-1 flex flex-wrap items-center gap-2">
            <Picker
              label="Held by"
              value={by}
              options={[
                { value: 'peak', text: 'by peak' },
                { value: 'average', text: 'by average' },
              ]}
              onpick={(to) => (by = to)}
            />
            <button
              class="border-ink hover:bg-chosen rounded-md border px-2 py-[2px]"
              title="The least depth with which both together are no louder than that"
              onclick={() => void ducks.reach(processor.id, { goal: 'sum', over_db: over, by })}
              >Keep the sum’s level</button
            >
          </p>
        {/if}
        {#if processor.settings.kind === 'equaliser'}
          <BandFields {strip} {processor} settings={processor.settings} {name} />
        {/if}
        <ProcessorFields
          {strip}
          {processor}
          {kind}
          elsewhere={became === 'shape' ? ['depth_db'] : []}
          of="the {kind.name.toLowerCase()} of {name}"
        />
        <h3 class="mt-3 mb-1 font-semibold">What it listens to</h3>
        <KeyFields {strip} {processor} />
        {#each triggers as voice (voice.id)}
          <h3 class="mt-3 mb-1 font-semibold">{voice.name}</h3>
          <TriggerFields {voice} />
        {/each}
        <p class="mt-3 flex flex-wrap gap-x-4 gap-y-1">
          {#if copies.length > 0}
            <button
              class="underline"
              onclick={() =>
                session.apply({
                  kind: 'copy_chain',
                  from: strip.id,
                  processors: [processor.id],
                  to: copies,
                  replace: false,
                })}>Copy to {copies.length === 1 ? 'the chosen row' : `${copies.length} chosen rows`}</button
            >
          {/if}
          <button
            class="underline"
            onclick={() => {
              board.processor = processor.id;
              board.selected = [board.rows.find((r) => r.strip.id === strip.id)?.key ?? ''];
              board.stage = 'shape';
            }}>Show in Shape</button
          >
        </p>
      </div>
    </div>
  </div>
{/if}
