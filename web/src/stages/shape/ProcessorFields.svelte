<!-- Every value of a processor, from what the core declares of its kind, and the gains around it. -->
<script lang="ts">
  import { setProcessor, setSettings } from '$lib/state/edits';
  import type { Edit, KindInfo, Processor, Settings, Strip } from '$lib/api/types';
  import { range } from '$lib/limits';
  import { desktop } from '$stages/desktop';
  import { noteWithMs } from '$lib/state/notes';
  import { triedTogether } from '$lib/state/tried';
  import Field from '$lib/ui/Field.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { hz } from './pictures';
  import { digitsOf, isIdle, stepOf, timeOf } from './values';

  interface Props {
    strip: Strip;
    processor: Processor;
    kind: KindInfo;
    /** What labels call it. */
    of: string;
    /** Values that stand elsewhere on the same bench. */
    elsewhere?: string[];
  }
  let { strip, processor, kind, of, elsewhere = [] }: Props = $props();
  const { session, board } = desktop();

  /** Rows whose processors of this kind move with this one: all that are chosen, where this row is. */
  const strips = () => {
    const like = session.doc.strips.filter((s) =>
      s.chain.some((p) => p.settings.kind === processor.settings.kind),
    );
    return board.together(strip.id).filter((id) => like.some((s) => s.id === id));
  };
  const word = $derived(processor.settings.kind);
  /** The same on the processors of this kind in all rows that are meant. */
  function onAll(change: (strip: number, of: Processor) => Edit): Edit {
    const meant = strips();
    if (meant.length === 1) return change(strip.id, processor);
    const edits = session.doc.strips
      .filter((s) => meant.includes(s.id))
      .flatMap((s) => s.chain.filter((p) => p.settings.kind === word).map((p) => change(s.id, p)));
    return { kind: 'batch', edits };
  }
  const settings = $derived(processor.settings as unknown as Record<string, number | string>);
  const withValue = (name: string, to: number | string) =>
    onAll((strip, of) =>
      setSettings(session.settledDoc, strip, of.id, { ...of.settings, [name]: to } as Settings),
    );
  const around = [
    { what: 'input_db', name: 'Input', label: 'Input gain', unit: 'dB', step: 0.5, ...range('slot_db') },
    { what: 'output_db', name: 'Output', label: 'Output gain', unit: 'dB', step: 0.5, ...range('slot_db') },
  ] as const;
  const mix = { what: 'mix_percent', unit: '%', digits: 0, reset: 100, ...range('mix_percent') } as const;
  /** What its mix is called; one that is not offered stands only while it is set. */
  const mixed = $derived(
    kind.mix === 'gains'
      ? { ...mix, name: 'Amount', label: 'Amount' }
      : kind.mix === 'sound' || processor.mix_percent !== 100
        ? { ...mix, name: 'Mix', label: 'Mix' }
        : undefined,
  );
  const about = $derived(
    {
      sound: '',
      gains: 'Amount: how much of the gains of bells and shelves acts; passes and notches stay whole.',
      whole:
        processor.mix_percent === 100
          ? 'No mix: a filter added to the sound as it came would hollow it out.'
          : 'The sound as it came is added, which hollows out what the filter turns. At 100 % it is whole.',
    }[kind.mix],
  );
  /** A note with how long it is now. */
  const inMs = (choice: string, text: string, option: string) => {
    const time = timeOf(kind.params, choice);
    return time ? noteWithMs(session.desk.notes, text, option, session.header.tempo_bpm, time) : text;
  };
  const idle = (name: string) =>
    name === 'width_percent' ? board.widthIdle(strip.id, processor.id) : undefined;
  const shown = $derived(
    kind.params.filter((p) => !isIdle(processor.settings, p.name) && !elsewhere.includes(p.name)),
  );
  const top = $derived(0.49 * session.header.sample_rate);
  const limited = $derived(
    kind.params.filter((p) => p.unit === 'Hz' && Number(settings[p.name]) > top).map((p) => p.label),
  );
</script>

<div class="grid grid-cols-[repeat(auto-fill,minmax(160px,1fr))] gap-x-6 gap-y-1">
  {#each shown as param (param.name)}
    {@const value = Number(settings[param.name])}
    <Field
      name={param.label}
      label="{param.label} of {of}"
      {value}
      min={param.min}
      max={param.max}
      unit={param.unit}
      reset={param.default}
      step={stepOf(param, value)}
      digits={digitsOf(param)}
      idle={idle(param.name)}
      offAt={param.unit === 'Hz' && param.min === 0 ? 0 : undefined}
      {...triedTogether(
        session,
        strips,
        { what: 'processor', kind: word, value: param.name },
        (to) => withValue(param.name, to),
        param.scale === 'ratio' && param.min > 0,
      )}
    />
  {/each}
  {#each kind.choices as choice (choice.name)}
    <Picker
      named
      label={choice.label}
      value={String(settings[choice.name])}
      options={choice.options.map(([value, text]) => ({ value, text: inMs(choice.name, text, value) }))}
      onpick={(to) => session.apply(withValue(choice.name, to))}
    />
  {/each}
  {#each mixed ? [...around, mixed] : around as { what, label, ...field } (what)}
    <Field
      {...field}
      label="{label} of {of}"
      value={processor[what]}
      {...triedTogether(session, strips, { what, kind: word }, (to) =>
        onAll((strip, of) => setProcessor(strip, of.id, { what, to })),
      )}
    />
  {/each}
</div>
{#if about}<p class="text-second mt-1">{about}</p>{/if}
{#if limited.length > 0}
  <p class="text-wrong mt-1">{limited.join(', ')} held at {hz(top)}, the top of this rate.</p>
{/if}
