<!-- Every value of every band as a field. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import type { Band, BandInfo, Param, Strip, TimeIn } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';
  import { ruledByNote } from '../values';
  import { bends, FIELDS, moves, sloped, withBand, type EqualiserSettings } from './bands';

  interface Props {
    settings: EqualiserSettings;
    /** The bands as they are, also while one is heard alone. */
    bands: Band[];
    info: BandInfo;
    strip: Strip;
    /** The band that is heard alone. */
    heard: number | undefined;
    onhear: (at: number | undefined) => void;
    ontry: (to: EqualiserSettings) => void;
    onset: (to: EqualiserSettings) => void;
    oncancel: () => void;
  }
  let { settings, bands, info, strip, heard, onhear, ontry, onset, oncancel }: Props = $props();
  const { session } = desktop();
  const of = $derived(session.nameOf(strip.id));

  const param = (name: string) => info.params.find((p) => p.name === name) as Param;
  const options = <T extends string>(name: string) =>
    (info.choices.find((c) => c.name === name)?.options ?? []).map(([value, text]) => ({
      value: value as T,
      text,
    }));
  const step = (p: Param, value: number) =>
    p.scale === 'even' ? 0.5 : Math.max(0.01, Math.round(value * 5) / 100);
  const change = (at: number, to: Partial<Band>) => withBand(settings, at, to);
  const add = () => onset({ kind: 'equaliser', bands: [...settings.bands, info.default] });
  const remove = (at: number) =>
    onset({ kind: 'equaliser', bands: settings.bands.filter((_, n) => n !== at) });
</script>

{#snippet values(band: Band, at: number, of: 1 | 2)}
  {#each FIELDS as field (field.name)}
    {#if field.line === of && field.shown(band)}
      {@const p = param(field.name)}
      <span class="flex items-center">
        {#if !ruledByNote(band, field.name)}
          <ValueField
            label="{p.label} of band {at + 1}"
            value={band[field.name]}
            min={p.min}
            max={p.max}
            unit={p.unit}
            reset={p.default}
            digits={field.digits}
            step={step(p, band[field.name])}
            class={field.counted ? 'w-9!' : 'w-12!'}
            onlive={(to) => ontry(change(at, { [field.name]: to }))}
            oncommit={(to) => onset(change(at, { [field.name]: to }))}
            {oncancel}
          />
        {/if}
        {#if field.counted}
          {@const { in: counted, word } = field.counted}
          <Picker
            label="{p.label} of band {at + 1} in"
            value={band[counted]}
            options={options<TimeIn>(counted).map((o) => ({ ...o, text: `${o.text} ${word}` }))}
            class="w-20 text-[11px]"
            onpick={(to) => onset(change(at, { [counted]: to }))}
          />
        {:else}
          <span class="text-second text-[11px]">{field.unit ?? p.unit}</span>
        {/if}
      </span>
    {/if}
  {/each}
{/snippet}

<ol aria-label="Bands of the equaliser of {of}" class="mb-2 grid gap-1">
  {#each bands as band, at (at)}
    <li class="grid gap-x-2">
      <div class="flex items-center gap-x-1">
        <span class="figures text-second w-4">{at + 1}</span>
        <CheckMark
          name="Band {at + 1} heard"
          checked={band.switch === 'on'}
          onchange={(to) => onset(change(at, { switch: to ? 'on' : 'off' }))}
        />
        <Picker
          label="Shape of band {at + 1}"
          value={band.shape}
          options={options<Band['shape']>('shape')}
          onpick={(shape) => onset(change(at, { shape }))}
        />
        {@render values(band, at, 1)}
        {#if sloped(band)}
          <Picker
            label="Slope of band {at + 1}"
            value={band.slope}
            options={options<Band['slope']>('slope')}
            onpick={(slope) => onset(change(at, { slope }))}
          />
        {/if}
        <button
          class="text-second ml-auto underline {heard === at ? 'text-ink font-semibold' : ''}"
          aria-label="Hear band {at + 1} alone while held"
          title="Hold to hear this band alone"
          onpointerdown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            onhear(at);
          }}
          onpointerup={() => onhear(undefined)}
          onlostpointercapture={() => onhear(undefined)}
          onblur={() => onhear(undefined)}
          onkeydown={(event) => event.key === ' ' && !event.repeat && onhear(at)}
          onkeyup={() => onhear(undefined)}>hear</button
        >
        <button class="text-second underline" aria-label="Remove band {at + 1}" onclick={() => remove(at)}
          >remove</button
        >
      </div>
      {#if bends(band)}
        <div class="flex items-center gap-x-1 pl-4 {moves(band) ? '' : 'opacity-90'}">
          {@render values(band, at, 2)}
        </div>
      {/if}
    </li>
  {:else}
    <li class="text-second">No bands yet; the sound passes as it is.</li>
  {/each}
</ol>
<Button disabled={settings.bands.length >= info.most} onclick={add}>Add a band</Button>
