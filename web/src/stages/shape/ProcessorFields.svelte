<!-- Every value of a processor, from what the core declares of its kind, and the gains around it. -->
<script lang="ts">
  import type { KindInfo, Processor, ProcessorChange, Settings, Strip } from '$lib/api/types';
  import { range } from '$lib/limits';
  import { desktop } from '$lib/state/context';
  import { tried } from '$lib/state/tried';
  import Field from '$lib/ui/Field.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { hz } from './pictures';
  import { digitsOf, stepOf } from './values';

  interface Props {
    strip: Strip;
    processor: Processor;
    kind: KindInfo;
    /** What labels call it. */
    of: string;
  }
  let { strip, processor, kind, of }: Props = $props();
  const { session } = desktop();

  const edit = (change: ProcessorChange) =>
    ({ kind: 'set_processor', strip: strip.id, processor: processor.id, change }) as const;
  const settings = $derived(processor.settings as unknown as Record<string, number | string>);
  const withValue = (name: string, to: number | string): ProcessorChange => ({
    what: 'settings',
    to: { ...processor.settings, [name]: to } as Settings,
  });
  const around = [
    { what: 'input_db', name: 'Input', label: 'Input gain', unit: 'dB', step: 0.5, ...range('slot_db') },
    { what: 'output_db', name: 'Output', label: 'Output gain', unit: 'dB', step: 0.5, ...range('slot_db') },
    {
      what: 'mix_percent',
      name: 'Mix',
      label: 'Mix',
      unit: '%',
      digits: 0,
      reset: 100,
      ...range('mix_percent'),
    },
  ] as const;
  const top = $derived(0.49 * session.doc.header.sample_rate);
  const limited = $derived(
    kind.params.filter((p) => p.unit === 'Hz' && Number(settings[p.name]) > top).map((p) => p.label),
  );
</script>

<div class="grid grid-cols-[repeat(auto-fill,minmax(160px,1fr))] gap-x-6 gap-y-1">
  {#each kind.params as param (param.name)}
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
      offAt={param.unit === 'Hz' && param.min === 0 ? 0 : undefined}
      {...tried(session, (to) => edit(withValue(param.name, to)))}
    />
  {/each}
  {#each kind.choices as choice (choice.name)}
    <Picker
      named
      label={choice.label}
      value={String(settings[choice.name])}
      options={choice.options.map(([option, text]) => ({ value: option, text }))}
      onpick={(to) => session.apply(edit(withValue(choice.name, to)))}
    />
  {/each}
  {#each around as { what, label, ...field } (what)}
    <Field
      {...field}
      label="{label} of {of}"
      value={processor[what]}
      {...tried(session, (to) => edit({ what, to }))}
    />
  {/each}
</div>
{#if limited.length > 0}
  <p class="text-wrong mt-1">{limited.join(', ')} held at {hz(top)}, the top of this rate.</p>
{/if}
