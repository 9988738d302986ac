<!-- Kick and bass in tune: both measured, and the ways to tune the kick. -->
<script lang="ts">
  import type { NamedPitch, Tuning } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';

  const { session, gauge } = desktop();
  const doc = $derived(session.doc);
  const sounding = $derived(doc.voices.filter((v) => v.source.kind !== 'empty'));
  let kickWish = $state<number>();
  let bassWish = $state<number>();
  const kick = $derived(
    sounding.find((v) => v.id === kickWish) ?? sounding.find((v) => v.family === 'low') ?? sounding[0],
  );
  const bass = $derived(
    bassWish === -1
      ? undefined
      : (sounding.find((v) => v.id === bassWish) ?? sounding.find((v) => v.family === 'bass')),
  );
  let tuning = $state<Tuning>();
  let problem = $state('');
  let busy = $state(false);
  const layers = $derived(kick?.source.kind === 'one_shot' ? kick.source.layers : []);

  async function measure() {
    if (!kick) return;
    const [of, beside] = [kick.id, bass?.id];
    [busy, problem] = [true, ''];
    const question = { about: 'tuning', kick: of, bass: beside ?? null } as const;
    const found = await gauge.ask('Measuring kick and bass', question);
    busy = false;
    if (!found) problem = gauge.problem;
    // Another pair was chosen meanwhile.
    else if (kick?.id === of && bass?.id === beside) tuning = found;
  }
  /** All layers together, then measured again. */
  async function tune(cents: number) {
    if (kick?.source.kind !== 'one_shot') return;
    const moved = layers.map((l) => ({ ...l, tune_ct: Math.round((l.tune_ct + cents) * 10) / 10 }));
    if (
      session.apply({
        kind: 'set_source',
        voice: kick.id,
        source: { ...kick.source, layers: moved },
        assets: [],
      })
    ) {
      await measure();
    }
  }

  let other = $state('');
  const targets = $derived((tuning?.targets ?? []).filter((t) => t.reason || t.note === other));
  const others = $derived([
    { value: '', text: 'those listed' },
    ...(tuning?.targets ?? []).filter((t) => !t.reason).map((t) => ({ value: t.note, text: t.note })),
  ]);

  const signed = (x: number) => (Math.round(x) > 0 ? `+${Math.round(x)}` : String(Math.round(x) || 0));
  const cents = (p: NamedPitch) => `${signed(p.cents)} ct`;
  const steps = (ct: number) => {
    const st = Math.round(ct / 100);
    return `${signed(st)} st ${signed(ct - st * 100)} ct`;
  };
  /** Places on the scale, in semitones above the lowest C shown. */
  const st = (hz: number) => 12 * Math.log2(hz / 440) + 69;
  const span = $derived.by(() => {
    const all = [tuning?.kick?.hz, ...(tuning?.bass ?? []).map((b) => b.pitch.hz)].filter(
      (hz) => hz !== undefined,
    );
    const low = Math.floor(Math.min(...all.map(st)) - 2);
    return { low, high: Math.max(low + 12, Math.ceil(Math.max(...all.map(st)) + 2)) };
  });
  const x = $derived((hz: number) => ((st(hz) - span.low) / (span.high - span.low)) * 100);
  const notes = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];
</script>

<div class="grid h-full min-h-0 grid-cols-[200px_minmax(0,1fr)_430px] gap-6">
  <div class="grid content-start gap-1">
    <Picker
      label="Kick"
      named
      class="w-full"
      value={kick?.id ?? -1}
      options={sounding.map((v) => ({ value: v.id, text: v.name }))}
      onpick={(v) => ((kickWish = v), (tuning = undefined))}
    />
    <Picker
      label="Bass"
      named
      class="w-full"
      value={bass?.id ?? -1}
      options={[{ value: -1, text: 'none' }, ...sounding.map((v) => ({ value: v.id, text: v.name }))]}
      onpick={(v) => ((bassWish = v), (tuning = undefined))}
    />
    <Button kind="first" class="mt-1" disabled={busy || !kick} onclick={measure}
      >{busy ? 'Listening …' : 'Measure'}</Button
    >
    {#if tuning?.kick}
      <Picker label="Tune to" named value={other} options={others} onpick={(note) => (other = note)} />
    {/if}
    {#if problem}<p class="text-wrong" role="alert">{problem}</p>{/if}
  </div>
  {#if tuning && (tuning.kick || tuning.bass.length > 0)}
    <div class="min-w-0">
      <p>
        {#if tuning.kick}
          {kick?.name} sounds <b>{tuning.kick.note}</b>
          {cents(tuning.kick)},
          <span class="figures" data-testid="kick-hz">{tuning.kick.hz.toFixed(2)} Hz</span>
        {:else}
          <span class="text-look">{kick?.name} has no clear pitch.</span>
        {/if}
      </p>
      <div class="border-line relative mt-6 h-16 border-b" aria-hidden="true">
        {#each Array.from({ length: span.high - span.low + 1 }, (_, n) => span.low + n) as key (key)}
          {@const at = ((key - span.low) / (span.high - span.low)) * 100}
          <div
            class="absolute bottom-0 w-px {key % 12 === 0 ? 'bg-third h-4' : 'bg-line h-2'}"
            style:left="{at}%"
          ></div>
          <span class="text-second absolute -bottom-5 -translate-x-1/2 text-[10px]" style:left="{at}%"
            >{notes[key % 12]}</span
          >
        {/each}
        {#each tuning.bass as note (note.pitch.hz)}
          <div
            class="absolute bottom-0 w-[5px] -translate-x-1/2"
            style:left="{x(note.pitch.hz)}%"
            style:height="{16 + Math.min(32, note.hits * 3)}px"
            style:background="var(--bass)"
            title="{note.pitch.note} {cents(note.pitch)}, {note.hits} hits"
          ></div>
        {/each}
        {#if tuning.kick}
          <div
            class="absolute bottom-0 h-16 w-[3px] -translate-x-1/2"
            style:left="{x(tuning.kick.hz)}%"
            style:background="var(--low)"
          ></div>
        {/if}
      </div>
      <p class="text-second mt-6 text-[12px]">
        {#each tuning.bass as note, n (note.pitch.hz)}{n > 0 ? ' · ' : 'Bass: '}{note.pitch.note},
          {cents(note.pitch)} ({note.hits}){/each}
      </p>
    </div>
    <div class="min-h-0 overflow-auto">
      <table class="w-full" aria-label="Ways to tune the kick">
        <tbody>
          {#each targets as target (target.note)}
            <tr class="border-faint border-b">
              <td class="pr-2 font-semibold">{target.note}</td>
              <td class="text-second max-w-40 truncate pr-2 text-[12px]" title={target.reason}
                >{target.reason}</td
              >
              <td class="py-1 text-right whitespace-nowrap">
                {#if Math.abs(target.up_ct) < 1}
                  <span class="text-good">in tune</span>
                {:else}
                  <button
                    class="figures border-line rounded-sm border px-1"
                    disabled={layers.length === 0}
                    onclick={() => tune(target.down_ct)}
                    aria-label="Tune down to {target.note}">↓ {steps(target.down_ct)}</button
                  >
                  <button
                    class="figures border-line rounded-sm border px-1"
                    disabled={layers.length === 0}
                    onclick={() => tune(target.up_ct)}
                    aria-label="Tune up to {target.note}">↑ {steps(target.up_ct)}</button
                  >
                {/if}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {:else}
    <p class="text-second col-span-2">
      {tuning
        ? 'Neither has a clear pitch.'
        : 'Measures what kick and bass sound, and offers the ways to bring them together.'}
    </p>
  {/if}
</div>
