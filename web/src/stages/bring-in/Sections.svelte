<!-- The song as a list of sections, and the time it runs in. -->
<script lang="ts">
  import { LIMITS } from '$lib/api/types/limits';
  import { range } from '$lib/limits';
  import { api } from '$lib/api/client';
  import type { Header, Section } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import Button from '$lib/ui/Button.svelte';
  import NameField from '$lib/ui/NameField.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';
  import { counted } from '$lib/ui/counted';

  const { session, board } = desktop();
  let dragged = $state<number>();
  let over = $state<number>();
  const doc = $derived(session.doc);
  const fresh = [
    { value: 'empty', text: 'Empty' },
    { value: 'copy', text: 'A copy of this one' },
  ] as const;
  const patterns = $derived(
    doc.patterns.map((p) => ({ value: p.id, text: `${p.name}, ${counted(p.bars, 'bar')}` })),
  );

  const metres = ['2/4', '3/4', '4/4', '5/4', '7/4', '3/8', '5/8', '6/8', '7/8', '9/8', '12/8'];
  const metre = $derived(`${doc.header.metre.beats}/${doc.header.metre.unit}`);
  const metreOptions = $derived([...new Set([...metres, metre])].map((text) => ({ value: text, text })));
  const setHeader = (change: Partial<Header>) =>
    session.apply({ kind: 'set_header', header: { ...doc.header, ...change } });
  function setMetre(text: string) {
    const [beats = 4, unit = 4] = text.split('/').map(Number);
    setHeader({ metre: { beats, unit } });
  }

  const set = (section: Section) => session.apply({ kind: 'set_section', section });
  function add() {
    const last = doc.sections.at(-1);
    if (last)
      session.apply({
        kind: 'add_section',
        name: `Section ${doc.sections.length + 1}`,
        pattern: last.pattern,
        bars: last.bars,
        at: doc.sections.length,
      });
  }
</script>

<div class="h-full max-w-xl min-w-0 overflow-auto">
  <div class="flex items-center gap-3">
    <h2 class="font-semibold">Song</h2>
    <Picker label="Metre" value={metre} options={metreOptions} onpick={setMetre} />
    <span class="text-second">Key</span>
    <input
      class="border-line bg-panel w-16 rounded-sm border px-1 py-[2px]"
      aria-label="Key"
      maxlength={LIMITS.key_chars}
      placeholder="none"
      value={doc.header.key}
      onchange={(event) => setHeader({ key: event.currentTarget.value.trim() })}
    />
    <span class="text-second ml-auto">Swing</span>
    <ValueField
      label="Swing of the off-beat sixteenths"
      value={doc.header.swing.percent}
      {...range('swing_percent')}
      unit="%"
      reset={50}
      format={(x) => `${x.toFixed(0)} %`}
      oncommit={(percent) => setHeader({ swing: { ...doc.header.swing, percent } })}
    />
  </div>
  <ol class="mt-1">
    {#each doc.sections as section, index (section.id)}
      <li
        class="border-faint flex items-center gap-2 border-b py-[3px] {over === index ? 'bg-chosen' : ''}"
        data-section={section.name}
        ondragover={(event) => {
          if (dragged === undefined) return;
          event.preventDefault();
          over = index;
        }}
        ondrop={(event) => {
          event.preventDefault();
          event.stopPropagation();
          if (dragged !== undefined) session.apply({ kind: 'move_section', section: dragged, to: index });
          dragged = over = undefined;
        }}
      >
        <span
          role="presentation"
          class="text-second cursor-grab px-1"
          draggable="true"
          title="Drag to another place"
          ondragstart={() => (dragged = section.id)}
          ondragend={() => (dragged = over = undefined)}>≡</span
        >
        <div class="w-24 min-w-0">
          <NameField label="Section name" value={section.name} onname={(name) => set({ ...section, name })} />
        </div>
        <ValueField
          label="Bars of {section.name}"
          value={section.bars}
          min={1}
          max={board.time.most_bars}
          unit="bars"
          reset={4}
          digits={0}
          class="w-9!"
          oncommit={(bars) => set({ ...section, bars: Math.round(bars) })}
        />
        <span class="text-second">bars</span>
        <Picker
          label="Pattern of {section.name}"
          value={section.pattern}
          options={patterns}
          class="w-32"
          onpick={(pattern) => set({ ...section, pattern })}
        />
        <ActionMenu
          text="New"
          label="New pattern of its own for {section.name}"
          items={[...fresh]}
          onpick={(of) => session.apply({ kind: 'give_pattern', section: section.id, copy: of === 'copy' })}
        />
        <button
          class="ml-auto px-1"
          aria-label="{section.name} earlier"
          disabled={index === 0}
          onclick={() => session.apply({ kind: 'move_section', section: section.id, to: index - 1 })}
          >↑</button
        >
        <button
          class="px-1"
          aria-label="Remove {section.name}"
          disabled={doc.sections.length === 1}
          onclick={() => session.apply({ kind: 'remove_section', section: section.id })}>×</button
        >
      </li>
    {/each}
  </ol>
  <div class="flex gap-4">
    <Button kind="text" onclick={add}>Add a section</Button>
    <a class="py-[5px] underline underline-offset-2" href={api.midiUrl(session.id)} download>Export as MIDI</a
    >
  </div>
</div>
