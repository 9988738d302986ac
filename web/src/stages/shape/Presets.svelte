<!-- Presets of processors and chains: ours and one's own, used, kept, renamed, removed. -->
<script lang="ts">
  import Leave from '$lib/ui/Leave.svelte';
  import Frame from '$lib/ui/Frame.svelte';
  import { setProcessor } from '$lib/state/edits';
  import { LIMITS } from '$lib/api/types/limits';
  import { api } from '$lib/api/client';
  import type { PresetLine, Processor, ProcessorChange, Strip } from '$lib/api/types';
  import { Attempt } from '$lib/state/attempt.svelte';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import NameField from '$lib/ui/NameField.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { keyed } from '$lib/state/duckers';

  let { strip, current }: { strip: Strip; current: Processor | undefined } = $props();
  const { session, board } = desktop();
  const nameOf = (p: Processor | undefined) => (p ? session.desk.nameOf(p) : '');
  let open = $state(false);
  let presets = $state.raw<PresetLine[]>([]);
  let name = $state('');
  let done = $state('');
  const attempt = new Attempt();

  const load = async () => void (presets = await api.presets());
  $effect(() => {
    if (!open) return void (asked = []);
    [name, done] = ['', ''];
    if (asked.length > 0) return;
    void attempt.run(load);
  });
  const chains = $derived(presets.filter((p) => p.processors.length > 1));
  const singles = $derived(
    presets.filter(
      (p) => p.processors.length === 1 && (!current || nameOf(p.processors[0]) === nameOf(current)),
    ),
  );

  /** Processors that were put in with a key and are yet to be told what it hears. */
  let asked = $state<number[]>([]);
  const deaf = () =>
    (session.doc.strips.find((s) => s.id === strip.id)?.chain ?? [])
      .filter((p) => p.key !== null && p.key.source === null)
      .map((p) => p.id);
  const waiting = $derived(strip.chain.filter((p) => asked.includes(p.id)));
  const sources = $derived([
    { value: 0, text: 'choose …' },
    ...session.doc.strips
      .filter((s) => s.id !== strip.id && s.kind !== 'main')
      .map((s) => ({ value: s.id, text: session.nameOf(s.id) })),
  ]);
  const hear = (p: Processor, source: number) =>
    p.key &&
    source > 0 &&
    session.apply(setProcessor(strip.id, p.id, { what: 'key', to: { ...p.key, ...keyed([source]) } }));

  /** A chain instead of what is there; one processor instead of the chosen one, or behind the rest. */
  function use(preset: PresetLine) {
    const one = preset.processors.length === 1 ? preset.processors[0] : undefined;
    if (one && current) {
      const change = (what: 'input_db' | 'output_db' | 'mix_percent') => ({ what, to: one[what] }) as const;
      const set = (to: ProcessorChange) => setProcessor(strip.id, current.id, to);
      session.apply({
        kind: 'batch',
        edits: [
          set({ what: 'settings', to: one.settings }),
          ...(['input_db', 'output_db', 'mix_percent'] as const).map((w) => set(change(w))),
        ],
      });
    } else {
      session.apply({
        kind: 'insert_processors',
        strips: [strip.id],
        processors: preset.processors,
        at: null,
        replace: !one,
      });
      board.processor = board.current?.strip.chain[0]?.id;
    }
    // What a key hears belongs to the session that it was kept from.
    asked = current && one ? [] : deaf();
    open = asked.length > 0;
  }
  const keep = (processors: Processor[]) =>
    attempt.run(async () => {
      await api.newPreset({ name, processors });
      [done, name] = [`${name.trim()} is kept.`, ''];
      await load();
    });
  const rename = (preset: PresetLine, to: string) =>
    attempt.run(async () => {
      await api.changePreset(preset.id, { name: to, processors: null });
      await load();
    });
  const remove = (preset: PresetLine) =>
    attempt.run(async () => {
      await api.removePreset(preset.id);
      await load();
    });
</script>

<Button kind="text" onclick={() => (open = true)}>Presets …</Button>
<Frame bind:open title="Presets" width={720}>
  {#if waiting.length > 0}
    <p class="mb-2">It was put in. Its keys were kept without what they hear:</p>
    <div class="grid max-w-sm gap-1" data-testid="asked-keys">
      {#each waiting as p (p.id)}
        <Picker
          named
          label="{nameOf(p)} by"
          value={p.key?.source ?? 0}
          options={sources}
          onpick={(to) => void hear(p, to)}
        />
      {/each}
    </div>
    <p class="mt-4 text-right">
      <Leave>Done</Leave>
    </p>
  {:else}
    <div class="grid min-h-0 flex-1 grid-cols-2 gap-8 overflow-auto">
      {#snippet list(title: string, lines: PresetLine[], about: string)}
        <section>
          <h3 class="font-semibold">{title}</h3>
          <p class="text-second mb-1">{about}</p>
          <ul aria-label={title}>
            {#each lines as preset (preset.id)}
              <li class="border-faint flex items-center gap-2 border-b py-[2px]">
                <div class="min-w-0 flex-1">
                  {#if preset.house}
                    <span class="truncate">{preset.name}</span>
                  {:else}
                    <NameField
                      label="Name of the preset"
                      value={preset.name}
                      onname={(to) => void rename(preset, to)}
                    />
                  {/if}
                  {#if preset.processors.length > 1}
                    <p class="text-second truncate text-[11px]">
                      {preset.processors.map(nameOf).join(', ')}
                    </p>
                  {/if}
                </div>
                {#if !preset.house}
                  <button
                    class="text-second underline"
                    aria-label="Remove the preset {preset.name}"
                    onclick={() => remove(preset)}>remove</button
                  >
                {/if}
                <Button aria-label="Use {preset.name}" onclick={() => use(preset)}>Use</Button>
              </li>
            {:else}
              <li class="text-second py-2">{attempt.busy ? 'Looking …' : 'None yet.'}</li>
            {/each}
          </ul>
        </section>
      {/snippet}
      {@render list('Chains', chains, 'Used instead of the whole chain.')}
      {@render list(
        current ? nameOf(current) : 'Processors',
        singles,
        current ? 'Used instead of the chosen processor’s values.' : 'Added to the chain.',
      )}
    </div>
    <form
      class="border-line mt-3 flex flex-wrap items-center gap-2 border-t pt-3"
      onsubmit={(e) => e.preventDefault()}
    >
      <input
        class="border-line bg-raised w-52 rounded-sm border px-2 py-1"
        aria-label="Name of a new preset"
        placeholder="Name of a new preset"
        maxlength={LIMITS.name_chars}
        bind:value={name}
      />
      <Button disabled={attempt.busy || !name.trim() || !current} onclick={() => current && keep([current])}
        >Keep this {nameOf(current).toLowerCase() || 'processor'}</Button
      >
      <Button
        disabled={attempt.busy || !name.trim() || strip.chain.length < 2}
        onclick={() => keep(strip.chain)}>Keep the chain</Button
      >
      <Leave class="ml-auto">Close</Leave>
      {#if attempt.problem}<p role="alert" class="text-wrong w-full">{attempt.problem}</p>
      {:else if done}<p role="status" class="text-second w-full">{done}</p>{/if}
    </form>
  {/if}
</Frame>
