<!-- How far a return is raised, and what that brings to main. -->
<script lang="ts">
  import type { MainFigures, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { blendSaid, difference, signed } from './path-words';
  import { range } from '$lib/limits';
  import { tried } from '$lib/state/tried';
  import Field from '$lib/ui/Field.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';

  let { strip, name }: { strip: Strip; name: string } = $props();
  const { session, paths, compare, gauge } = desktop();
  const blend = $derived(paths.bench?.blend ?? undefined);
  const faders = $derived(
    tried(session, (to) => ({
      kind: 'set_strips',
      strips: [strip.id],
      change: { what: 'fader_db', to },
    })),
  );
  /** Where the slider ends on the left: off. */
  const OFF = -60;
  let budget = $state(0.5);
  const FIGURES: [keyof MainFigures, string, string][] = [
    ['sample_peak_dbfs', 'Peak', 'dBFS'],
    ['true_peak_dbtp', 'True peak', 'dBTP'],
    ['lufs', 'Loudness', 'LUFS'],
    ['crest_db', 'Crest', 'dB'],
  ];
  const text = (x: number | null) => (x === null ? 'silent' : x.toFixed(1));
  const slide = (event: Event) => Number((event.currentTarget as HTMLInputElement).value);
  const level = (x: number) => (x <= OFF ? -100 : x);
  const heard = $derived(paths.heard?.kind === 'without' ? paths.heard : undefined);

  /** Seconds since the figures were heard, written now and then. */
  let now = $state(performance.now());
  $effect(() => {
    const timer = setInterval(() => (now = performance.now()), 5000);
    return () => clearInterval(timer);
  });
  const age = $derived.by(() => {
    if (paths.heardAt === undefined) return 'not heard yet';
    if (!paths.fresh) return 'changed since it was heard';
    const s = Math.max(0, Math.round((now - paths.heardAt) / 5000) * 5);
    return s < 5 ? 'heard just now' : s < 90 ? `heard ${s} s ago` : `heard ${Math.round(s / 60)} min ago`;
  });
  const button = 'border-ink rounded-md border px-2 py-[3px] whitespace-nowrap disabled:opacity-50';
</script>

<div class="min-h-0 overflow-auto pr-3">
  <div class="flex items-center gap-3">
    <h3 class="font-semibold">Blend</h3>
    <input
      type="range"
      class="min-w-0 flex-1"
      style:accent-color="var(--return)"
      min={OFF}
      max={12}
      step={0.1}
      aria-label="Blend of {name}"
      aria-valuetext={strip.fader_db <= -100 ? 'off' : `${strip.fader_db.toFixed(1)} dB`}
      value={Math.max(OFF, strip.fader_db)}
      oninput={(event) => faders.onlive(level(slide(event)))}
      onchange={(event) => faders.oncommit(level(slide(event)))}
    />
    <ValueField
      label="Fader of {name}"
      value={strip.fader_db}
      {...range('fader_db')}
      offAt={-100}
      step={0.5}
      unit="dB"
      class="font-semibold"
      {...faders}
    />
    <span class="text-second">dB</span>
  </div>
  <table class="figures mt-1 w-full text-right text-[12px]!" aria-label="Main with and without {name}">
    <thead class="text-second">
      <tr>
        <th class="text-left font-normal"
          ><span class="font-sans">{blend?.before_limiter ? 'Main, before its limiter' : 'Main'}</span></th
        >
        {#each FIGURES as [id, title, unit] (id)}<th class="font-sans font-normal" title={unit}>{title}</th
          >{/each}
      </tr>
    </thead>
    <tbody class={paths.fresh ? '' : 'text-second'}>
      <tr>
        <td class="text-second text-left font-sans">with it</td>
        {#each FIGURES as [id] (id)}<td>{blend ? text(blend.with[id]) : '…'}</td>{/each}
      </tr>
      <tr>
        <td class="text-second text-left font-sans">without</td>
        {#each FIGURES as [id] (id)}<td>{blend ? text(blend.without[id]) : '…'}</td>{/each}
      </tr>
      <tr class="font-semibold">
        <td class="text-left font-sans">difference</td>
        {#each FIGURES as [id] (id)}
          <td data-testid="difference-{id}">{blend ? signed(difference(blend, id)) : '…'}</td>
        {/each}
      </tr>
    </tbody>
  </table>
  <p class="mt-1 flex justify-between gap-3">
    <span data-testid="blend-said">{blend ? blendSaid(blend) : 'Being heard over the loop …'}</span>
    <span class="text-second whitespace-nowrap">{age}</span>
  </p>
  <div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2">
    <button
      class="{button} bg-ink text-panel"
      disabled={gauge.part !== undefined}
      title="The highest blend at which the sample peak of main rises by no more than that"
      onclick={() => void paths.findBlend(budget)}>Find the blend</button
    >
    <div class="w-[190px]">
      <Field
        name="within, dB of peak"
        label="Budget of peak for the blend of {name}"
        value={budget}
        min={0.1}
        max={12}
        step={0.1}
        unit="dB"
        reset={0.5}
        format={(x) => `+${x.toFixed(1)}`}
        oncommit={(db) => (budget = db)}
      />
    </div>
    <button
      class="{button} {heard?.heard === 'without' ? 'bg-ink text-panel' : 'hover:bg-chosen'}"
      aria-pressed={heard?.heard === 'without'}
      disabled={!heard && (!paths.fresh || strip.fader_db <= -100)}
      title="Both as loud as each other, measured over the loop"
      onclick={() => {
        compare.end();
        paths.flipWithout();
      }}>Without it, matched</button
    >
    {#if heard}
      <span class="figures text-second" data-testid="matched">{signed(heard.offset)} dB to match</span>
    {/if}
  </div>
</div>
