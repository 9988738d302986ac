<!-- What a processor listens to: its source, where it is tapped, its level and filters, and a way to hear it. -->
<script lang="ts">
  import { setProcessor } from '$lib/state/edits';
  import type { Key, Processor, SendTap, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { keyed, keyOf, plansHits, sourcesOfKey } from '$lib/state/duckers';
  import { ended } from '$lib/state/ended';
  import { tried } from '$lib/state/tried';
  import Field from '$lib/ui/Field.svelte';
  import Picker from '$lib/ui/Picker.svelte';

  let { strip, processor }: { strip: Strip; processor: Processor } = $props();
  const { session, player } = desktop();
  const kind = $derived(session.desk.kinds.find((k) => k.default.kind === processor.settings.kind));
  const owner = $derived(`${kind?.name ?? 'Processor'} of ${session.nameOf(strip.id)}`);
  const key = $derived(processor.key);
  /** Every strip can be a source, silent and muted ones too; a loop is refused with its path. */
  const sources = $derived([
    { value: -1, text: processor.settings.kind === 'beat_shape' ? 'None: on the beat' : 'Its own input' },
    ...(key && key.source === null ? [{ value: 0, text: 'a lane that is gone' }] : []),
    ...session.doc.strips
      .filter((s) => s.id !== strip.id && s.kind !== 'main')
      .map((s) => ({
        value: s.id,
        text: session.nameOf(s.id) + (s.kind === 'trigger' ? ' (trigger)' : ''),
      })),
  ]);
  const taps: { value: SendTap; text: string }[] = [
    { value: 'pre_fader', text: 'before its fader' },
    { value: 'post_fader', text: 'after its fader' },
  ];
  const edit = (to: Key | null) => setProcessor(strip.id, processor.id, { what: 'key', to });
  const fresh = keyOf(session.desk);
  const set = (change: Partial<Key>) => session.apply(edit({ ...(key ?? fresh), ...change }));
  const heard = $derived(key ? sourcesOfKey(key) : []);
  /** Other strips that could be heard as well. */
  const more = $derived(sources.filter(({ value }) => value > 0 && !heard.includes(value)));
  /** Puts another strip at a place of those that are heard, or none. */
  const hear = (at: number, to: number) => set(keyed(heard.toSpliced(at, 1, ...(to > 0 ? [to] : []))));
  const moved = (what: 'level_db' | 'high_pass_hz' | 'low_pass_hz' | 'even_percent' | 'least_velocity') =>
    tried(session, (to) =>
      edit({ ...(key ?? fresh), [what]: what === 'least_velocity' ? Math.round(to) : to }),
    );
  const fields = [
    { what: 'level_db', name: 'Key level', min: -100, max: 24, offAt: -100, step: 0.5, unit: 'dB' },
    {
      what: 'high_pass_hz',
      name: 'Key high-pass',
      min: 0,
      max: 20000,
      offAt: 0,
      step: 10,
      digits: 0,
      unit: 'Hz',
    },
    {
      what: 'low_pass_hz',
      name: 'Key low-pass',
      min: 0,
      max: 20000,
      offAt: 0,
      step: 50,
      digits: 0,
      unit: 'Hz',
    },
  ] as const;
  /** How hits count, where they are known: a shape goes by hits and hears no level. */
  const weighed = $derived(
    heard.length > 0 && heard.every((id) => plansHits(session.doc, id))
      ? ([
          ...(processor.settings.kind === 'beat_shape'
            ? []
            : [
                {
                  what: 'even_percent',
                  name: 'Even out',
                  min: 0,
                  max: 100,
                  step: 5,
                  digits: 0,
                  unit: '%',
                } as const,
              ]),
          { what: 'least_velocity', name: 'Least velocity', min: 1, max: 127, step: 1, digits: 0, unit: '' },
        ] as const)
      : [],
  );
  const hears = $derived(player.listening === processor.id && !player.taken);
  // Nobody hears a key whose fields are out of sight.
  const place = $derived(`${strip.id} ${processor.id}`);
  $effect(() => {
    const [at = 0, id] = place.split(' ').map(Number);
    return ended(() => {
      if (player.listening === id) player.listen(at, undefined);
    });
  });
</script>

<div class="grid content-start gap-1">
  <Picker
    named
    label="Key"
    value={key ? (key.source ?? 0) : -1}
    options={sources}
    onpick={(to) => (to < 0 ? session.apply(edit(null)) : hear(0, to))}
  />
  {#if key}
    {#each heard.slice(1) as source, n (source)}
      <Picker
        named
        label="and"
        value={source}
        options={[{ value: 0, text: 'no more' }, ...sources.filter((s) => s.value === source), ...more]}
        onpick={(to) => hear(n + 1, to)}
      />
    {/each}
    {#if heard.length > 0 && heard.length < session.desk.ready.key_sources && more.length > 0}
      <Picker
        named
        label="and"
        value={0}
        options={[{ value: 0, text: 'nothing else' }, ...more]}
        onpick={(to) => to > 0 && hear(heard.length, to)}
      />
    {/if}
    <Picker named label="Tapped" value={key.tap} options={taps} onpick={(tap) => set({ tap })} />
    {#each fields as { what, name, ...field } (what)}
      <Field {name} label="{name} of the {owner}" value={key[what]} {...field} {...moved(what)} />
    {/each}
    {#each weighed as { what, name, ...field } (what)}
      <Field {name} label="{name} of the {owner}" value={key[what]} {...field} {...moved(what)} />
    {/each}
    <button
      class="border-ink justify-self-start rounded-md border px-2 py-[2px] {hears ? 'bg-ink text-panel' : ''}"
      aria-pressed={hears}
      onclick={() => player.listen(strip.id, hears ? undefined : processor.id)}>Listen to the key</button
    >
  {/if}
</div>
