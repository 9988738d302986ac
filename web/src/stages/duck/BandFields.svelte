<!-- The values of the bands that move by the key. -->
<script lang="ts">
  import { setSettings } from '$lib/state/edits';
  import type { Band, Equaliser, Processor, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { noteWithMs } from '$lib/state/notes';
  import Field from '$lib/ui/Field.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { digitsOf, ruledByNote, stepOf, timeOf } from '../shape/values';

  interface Props {
    strip: Strip;
    processor: Processor;
    settings: Equaliser;
    /** What labels call it. */
    name: string;
  }
  let { strip, processor, settings, name }: Props = $props();
  const { session } = desktop();
  const FIELDS = ['freq_hz', 'q', 'range_db', 'threshold_dbfs', 'attack_ms', 'release_ms'] as const;
  const info = $derived(session.desk.kinds.find((k) => k.default.kind === 'equaliser')?.bands);
  const fields = $derived(FIELDS.flatMap((field) => (info?.params ?? []).filter((p) => p.name === field)));
  const COUNTED = ['attack_in', 'release_in'];
  const counted = $derived((info?.choices ?? []).filter((c) => COUNTED.includes(c.name)));
  const moving = $derived(
    settings.bands.map((band, at) => ({ band, at })).filter(({ band }) => band.range_db !== 0),
  );
  const edit = (at: number, change: Partial<Band>) =>
    setSettings(session.settledDoc, strip.id, processor.id, {
      kind: 'equaliser',
      bands: settings.bands.map((b, n) => (n === at ? { ...b, ...change } : b)),
    });
</script>

{#each moving as { band, at } (at)}
  {@const of = `${name}${moving.length > 1 ? `, ${at + 1}` : ''}`}
  {#each fields.filter((p) => !ruledByNote(band, p.name)) as param (param.name)}
    {@const value = Number(band[param.name as keyof Band])}
    <Field
      name={param.label}
      label="{param.label} of the band on {of}"
      {value}
      min={param.min}
      max={param.max}
      unit={param.unit}
      reset={param.default}
      step={stepOf(param, value)}
      digits={digitsOf(param)}
      onlive={(to) => session.try(edit(at, { [param.name]: to }))}
      oncommit={(to) => session.apply(edit(at, { [param.name]: to }))}
      oncancel={() => session.cancelLive()}
    />
  {/each}
  {#each counted as choice (choice.name)}
    <Picker
      named
      label={moving.length > 1 ? `${choice.label}, ${at + 1}` : choice.label}
      value={String(band[choice.name as keyof Band])}
      options={choice.options.map(([value, text]) => ({
        value,
        text: noteWithMs(
          session.desk.notes,
          text,
          value,
          session.header.tempo_bpm,
          timeOf(info?.params ?? [], choice.name),
        ),
      }))}
      onpick={(to) => session.apply(edit(at, { [choice.name]: to }))}
    />
  {/each}
{:else}
  <p class="text-second">No band of it moves by its key.</p>
{/each}
