<!-- Lanes of a template brought into this session, with their chains, buses, returns and sends. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import Frame from '$lib/ui/Frame.svelte';
  import { api } from '$lib/api/client';
  import type { Insertion, OpenTemplate, StripMap, TemplateLine } from '$lib/api/types';
  import { Attempt } from '$lib/state/attempt.svelte';
  import { deafKeys } from '$lib/state/template';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import { counted } from '$lib/ui/counted';
  import Outline from '$lib/ui/Outline.svelte';
  import Picker from '$lib/ui/Picker.svelte';

  let { open = $bindable(false) }: { open?: boolean } = $props();
  const { session, board, versions } = desktop();
  let list = $state<TemplateLine[]>();
  let opened = $state.raw<OpenTemplate>();
  let chosen = $state<number[]>([]);
  /** Where each needed bus or return ends up; 0 for a new one. */
  let places = $state<Record<number, number>>({});
  let withHits = $state(true);
  const attempt = new Attempt();
  $effect(() => {
    if (!open) return;
    [opened, chosen] = [undefined, []];
    void attempt.run(async () => void (list = await api.templates()));
  });
  function pick(id: string) {
    void attempt.run(async () => {
      opened = await api.template(id, session.id);
      chosen = opened.document.voices.map((v) => v.id);
    });
  }
  const doc = $derived(session.doc);
  const plain = $derived<Insertion | undefined>(
    opened && { from: opened.document, voices: chosen, map: [], pattern: null },
  );
  const proposed = $derived(plain ? session.desk.needed(plain) : []);
  const needed = $derived(
    proposed.flatMap((map) => opened?.document.strips.filter((s) => s.id === map.from) ?? []),
  );
  /** The strip here that a needed one means, unless somebody says otherwise. */
  const meant = (id: number) => places[id] ?? proposed.find((map) => map.from === id)?.to ?? 0;
  const nameThere = (id: number) =>
    opened?.document.strips.find((s) => s.id === id)?.name ||
    opened?.document.voices
      .filter((v) => v.channel === id)
      .map((v) => v.name)
      .join(' + ') ||
    '';
  /** What keys listen to that does not come along, each with what it is here. */
  const asked = $derived(
    opened
      ? deafKeys(
          opened.document,
          chosen,
          needed.map((s) => s.id),
        )
      : [],
  );
  const sources = $derived(
    doc.strips.filter((s) => s.kind !== 'main').map((s) => ({ value: s.id, text: session.nameOf(s.id) })),
  );
  const heard = (id: number) =>
    places[id] ?? sources.find((s) => s.text.toLowerCase() === nameThere(id).toLowerCase())?.value ?? 0;
  const pattern = $derived(board.loop[0]?.pattern.id ?? null);
  async function insert() {
    if (!plain) return;
    const map: StripMap[] = [
      ...needed.map((s) => ({ from: s.id, to: meant(s.id) || null })),
      ...asked.map((id) => ({ from: id, to: heard(id) || null })),
    ];
    const insertion = { ...plain, map, pattern: withHits ? pattern : null };
    await versions.before('Before lanes were inserted');
    if (session.apply({ kind: 'insert_lanes', insertion })) open = false;
    else attempt.problem = session.message;
  }
</script>

<Frame bind:open title={opened ? `Lanes from ${opened.name}` : 'Lanes from a template'} width={620}>
  {#if attempt.problem}<p role="alert" class="text-wrong mb-2">{attempt.problem}</p>{/if}
  {#if !opened}
    <p class="text-second h-5" role="status">{attempt.busy ? 'Opening …' : ''}</p>
    <ul class="min-h-0 flex-1 overflow-auto">
      {#each list ?? [] as template (template.id)}
        <li>
          <button
            class="hover:bg-chosen flex w-full items-center gap-4 rounded-sm px-2 py-2 text-left"
            onclick={() => pick(template.id)}
          >
            <Outline strips={template.strips} label="Routing of {template.name}" />
            <span><b>{template.name}</b><br /><span class="text-second">{template.purpose}</span></span>
          </button>
        </li>
      {/each}
    </ul>
  {:else}
    {@const document = opened.document}
    <div class="grid min-h-0 grid-cols-2 gap-6 overflow-auto">
      <fieldset class="content-start">
        <legend class="text-second mb-1">Lanes</legend>
        <p class="mb-1 flex gap-3">
          <Button kind="text" onclick={() => (chosen = document.voices.map((v) => v.id))}>all</Button>
          <Button kind="text" onclick={() => (chosen = [])}>none</Button>
        </p>
        {#each document.voices as voice (voice.id)}
          <label class="flex items-center gap-2 py-[2px]">
            <CheckMark
              checked={chosen.includes(voice.id)}
              onchange={(to) =>
                (chosen = to ? [...chosen, voice.id] : chosen.filter((id) => id !== voice.id))}
            />
            {voice.name}
            {#if doc.voices.some((v) => v.name === voice.name)}
              <span class="text-second text-[12px]">gets a number</span>
            {/if}
          </label>
        {/each}
      </fieldset>
      <div class="grid content-start gap-2">
        <h3 class="text-second">What they need</h3>
        {#each needed as strip (strip.id)}
          <Picker
            label={strip.name}
            named
            value={meant(strip.id)}
            options={[
              { value: 0, text: `new ${strip.kind}` },
              ...doc.strips.filter((s) => s.kind === strip.kind).map((s) => ({ value: s.id, text: s.name })),
            ]}
            onpick={(to) => (places = { ...places, [strip.id]: to })}
          />
        {/each}
        {#if asked.length > 0}
          <h3 class="text-second">What their keys listen to</h3>
          {#each asked as id (id)}
            <Picker
              label={nameThere(id)}
              named
              value={heard(id)}
              options={[{ value: 0, text: 'nothing yet' }, ...sources]}
              onpick={(to) => (places = { ...places, [id]: to })}
            />
          {/each}
        {/if}
        {#if document.parts.length > 0}
          <label class="flex items-center gap-2">
            <CheckMark bind:checked={withHits} />
            With hits, in pattern {board.loop[0]?.pattern.name}
          </label>
        {/if}
      </div>
    </div>
    <div class="mt-4 flex justify-end gap-2">
      <Button onclick={() => (opened = undefined)}>Another template</Button>
      <Button kind="first" disabled={chosen.length === 0} onclick={insert}
        >Bring {counted(chosen.length, 'lane')} in</Button
      >
    </div>
  {/if}
</Frame>
