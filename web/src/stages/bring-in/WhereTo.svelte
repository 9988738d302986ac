<!-- Which sound and which notes go to which lane, where there is a choice: shown before anything is made. -->
<script lang="ts">
  import Leave from '$lib/ui/Leave.svelte';
  import Frame from '$lib/ui/Frame.svelte';
  import { laneKey, laneOf } from './incoming/notes';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import Glyph from '$lib/ui/Glyph.svelte';
  import Picker from '$lib/ui/Picker.svelte';

  const { bringIn, session } = desktop();
  const asking = $derived(bringIn.asking);
  const waiting = $derived(
    session.doc.voices.filter((v) => v.source.kind === 'empty' || bringIn.standsIn(v)),
  );
  const count = $derived(asking?.sounds.length ?? 0);
  const filled = $derived(asking?.to.filter((d) => d.voice !== null).length ?? 0);
  const played = $derived(asking?.notes.filter((line) => laneOf(line).kind !== 'new').length ?? 0);
  const title = $derived(count + (asking?.notes.length ?? 0) === 1 ? 'Where it goes' : 'Where they go');
  const severalTakes = $derived(new Set(asking?.notes.map((line) => line.of)).size > 1);
  const fileOf = (path: string) => path.split('/').at(-1) ?? path;
  const options = (output: number | null) => [
    { value: '', text: output === null ? 'a new lane' : `a new lane on ${session.nameOf(output)}` },
    ...waiting.map((v) => ({
      value: String(v.id),
      text: v.source.kind === 'empty' ? v.name : `${v.name}, instead of our sound`,
    })),
  ];
</script>

<Frame bind:open={() => asking !== undefined, (open) => !open && bringIn.answer(false)} {title} width={560}>
  {#snippet said()}{#if asking}{#if count > 0 && waiting.length > 0}
        {waiting.length === 1 ? 'A lane waits for a sound' : `${waiting.length} lanes wait for a sound`}; {filled}
        of
        {count}
        {count === 1 ? 'file' : 'files'} would fill {filled === 1 ? 'one' : 'some'}.
      {/if}
      {#if asking.notes.length > 0}
        Notes of {played} of {asking.notes.length}
        {asking.notes.length === 1 ? 'sound' : 'sounds'} would play lanes that are there or come in.
      {/if}{/if}{/snippet}
  {#if asking}
    <div class="-mx-1 min-h-0 flex-1 overflow-y-auto px-1" role="group" aria-label="Files and lanes">
      {#each asking.sounds as { of, name }, at (at)}
        <div class="border-faint flex items-center gap-3 border-b py-1">
          <span class="min-w-0 flex-1 truncate" title={of.file}>{fileOf(of.file)}</span>
          <Picker
            label="Lane of {name}"
            class="w-60"
            value={String(asking.to[at]?.voice ?? '')}
            options={options(asking.to[at]?.output ?? null)}
            onpick={(to) => bringIn.choose(at, to === '' ? null : Number(to))}
          />
        </div>
      {/each}
      {#each asking.notes as line, at (at)}
        <div class="border-faint flex items-center gap-3 border-b py-1">
          <span class="flex min-w-0 flex-1 items-center gap-2" title={line.of.file}>
            <Glyph kind={line.family} />
            <span class="truncate">{line.notes}</span>
            <span class="text-second min-w-0 truncate">
              {line.hits}
              {line.hits === 1 ? 'note' : 'notes'}{severalTakes ? ` of ${fileOf(line.of.file)}` : ''}
            </span>
          </span>
          <Picker
            label="Lane for the notes of {line.notes}"
            class="w-60"
            value={laneKey(laneOf(line))}
            options={asking.options}
            onpick={(value) => {
              const lane = asking.options.find((o) => o.value === value)?.lane;
              if (lane) bringIn.chooseNotes(line, lane);
            }}
          />
        </div>
      {/each}
    </div>
    <div class="mt-4 flex items-center gap-2">
      <Button kind="text" onclick={() => bringIn.chooseAll('proposed')}>As proposed</Button>
      <Button kind="text" onclick={() => bringIn.chooseAll('new')}>All in new lanes</Button>
      <span class="flex-1"></span>
      <Leave>Leave out</Leave>
      <Button kind="first" onclick={() => bringIn.answer(true)}>Bring in</Button>
    </div>
  {/if}
</Frame>
