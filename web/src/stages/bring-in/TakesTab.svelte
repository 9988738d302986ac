<!-- MIDI takes: every note in use, and the voice it goes to. Lines are put together by dragging one onto another
     or by choosing the same voice. -->
<script lang="ts">
  import { counted } from '$lib/ui/counted';
  import Glyph from '$lib/ui/Glyph.svelte';
  import { api } from '$lib/api/client';
  import type { KeptTake, NoteKey, Split, SplitTarget, TakeLine, TakeSound } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { joined, joinings, type Joining } from './incoming/joining';
  import { takesNotes } from './incoming/notes';
  import WhoseSound from './WhoseSound.svelte';

  const { session, player } = desktop();
  const doc = $derived(session.doc);
  let wanted = $state<number>();
  const kept = $derived(doc.takes.find((t) => t.id === wanted) ?? doc.takes.at(-1));
  const lines = $derived.by((): TakeLine[] => {
    void doc.header.metre;
    return kept ? session.desk.takeLines(kept.id) : [];
  });
  let sounds = $state<TakeSound[]>([]);
  let soundsOf = -1;
  let problem = $state('');
  let dragged = $state<TakeLine>();
  let over = $state<TakeLine>();

  const NEW = -1;
  const NOTHING = -2;
  const same = (a: NoteKey, b: NoteKey) => a.track === b.track && a.channel === b.channel && a.key === b.key;
  const groupOf = (take: KeptTake, key: NoteKey) => take.groups.find((g) => g.keys.some((k) => same(k, key)));
  const voiceOf = $derived((key: NoteKey) => (kept ? groupOf(kept, key)?.voice : undefined));
  const options = $derived([
    { value: NEW, text: 'New voice' },
    { value: NOTHING, text: 'No voice' },
    ...doc.voices.filter(takesNotes).map((v) => ({ value: v.id, text: v.name })),
  ]);

  /** House sounds of the take, fetched when a new voice first needs one. */
  async function soundFor(take: KeptTake, key: NoteKey) {
    if (soundsOf !== take.id) {
      // The server knows the take once it has the edit that brought it.
      await session.settled();
      sounds = await api.takeSounds(session.id, take.id);
      soundsOf = take.id;
    }
    return sounds.find((s) => same(s.key, key))?.asset ?? null;
  }
  const made = async (take: KeptTake, line: TakeLine, name: string): Promise<SplitTarget> => ({
    kind: 'new',
    name,
    family: line.family,
    melodic: line.melodic,
    sound: await soundFor(take, line.key),
  });

  /** A split that waits for somebody to say whose sound plays. */
  let waiting = $state.raw<{ take: number; splits: Split[]; asked: Joining[] }>();
  function split(take: KeptTake, splits: Split[]) {
    const filled = splits.filter((s) => s.keys.length > 0);
    const asked = joinings(session.doc, take, filled);
    if (asked.length > 0) waiting = { take: take.id, splits: filled, asked };
    else session.applySure({ kind: 'split_take', take: take.id, splits: filled });
  }
  function answered(chosen: (number | undefined)[] | undefined) {
    if (waiting && chosen) session.applySure(joined(waiting.take, waiting.splits, waiting.asked, chosen));
    waiting = undefined;
  }
  async function attempt(work: () => Promise<void>) {
    try {
      problem = '';
      await work();
    } catch (error) {
      problem = (error as Error).message;
    }
  }
  const asIs = (take: KeptTake, without: NoteKey): Split[] =>
    take.groups.map((g) => ({
      to: { kind: 'voice', voice: g.voice },
      keys: g.keys.filter((k) => !same(k, without)),
    }));

  function send(line: TakeLine, voice: number) {
    const take = kept;
    if (!take) return;
    void attempt(async () => {
      const splits = asIs(take, line.key);
      if (voice === NEW) splits.push({ to: await made(take, line, line.name), keys: [line.key] });
      else if (voice !== NOTHING) splits.push({ to: { kind: 'voice', voice }, keys: [line.key] });
      split(take, splits);
    });
  }
  function join(onto: TakeLine) {
    const voice = voiceOf(onto.key);
    if (dragged && voice !== undefined && !same(dragged.key, onto.key)) send(dragged, voice);
    dragged = over = undefined;
  }
  /** Every line to the voice that `name` gives it; voices of the take that have the name are used again. */
  function again(name: (line: TakeLine) => string) {
    const take = kept;
    if (!take) return;
    void attempt(async () => {
      const names = new Map<string, Split>();
      for (const line of lines) {
        const found = names.get(name(line));
        if (found) {
          found.keys.push(line.key);
          continue;
        }
        const there = doc.voices.find((v) => v.name === name(line) && v.source.kind !== 'recording');
        const to: SplitTarget = there
          ? { kind: 'voice', voice: there.id }
          : await made(take, line, name(line));
        names.set(name(line), { to, keys: [line.key] });
      }
      split(take, [...names.values()]);
    });
  }
  const alone = (line: TakeLine) => {
    const twice = lines.filter((l) => l.name === line.name).length > 1;
    return twice ? `${line.name} ch ${line.key.channel + 1}${line.track ? ` ${line.track}` : ''}` : line.name;
  };
</script>

<WhoseSound asked={waiting?.asked} onanswer={answered} />
{#if !kept}
  <p class="text-second">Drop a MIDI file: it is split into voices here, and kept as it came.</p>
{:else}
  {@const take = kept}
  <div class="grid h-full min-h-0 grid-cols-[220px_minmax(0,1fr)] gap-6">
    <div class="grid content-start gap-2">
      {#if doc.takes.length > 1}
        <Picker
          label="Take"
          class="w-full"
          value={take.id}
          options={doc.takes.map((t) => ({ value: t.id, text: t.take.name }))}
          onpick={(id) => (wanted = id)}
        />
      {:else}
        <h2 class="truncate font-semibold">{take.take.name}</h2>
      {/if}
      <p class="text-second">
        {counted(take.take.notes.length, 'note')}, kept as they came. The take itself is silent; its voices
        play.
      </p>
      <p class="flex flex-wrap gap-x-3">
        <button class="underline" onclick={() => again((line) => line.voice)}>Split as proposed</button>
        <button class="underline" onclick={() => again(alone)}>Each note alone</button>
        <button class="underline" onclick={() => session.apply({ kind: 'remove_take', take: take.id })}
          >Forget the take</button
        >
      </p>
      {#each take.take.remarks as remark (remark)}<p class="text-look">{remark}</p>{/each}
      {#if problem}<p class="text-wrong" role="alert">{problem}</p>{/if}
    </div>
    <div class="min-h-0 overflow-auto">
      <table class="w-full" aria-label="Notes of {take.take.name}">
        <thead class="text-second bg-raised sticky top-0 text-left text-[12px]">
          <tr>
            <th class="font-normal">Note</th><th class="font-normal">Key</th><th class="font-normal"
              >Channel</th
            >
            <th class="font-normal">Track</th><th class="text-right font-normal">Hits</th>
            <th class="text-right font-normal">First bar</th><th></th><th class="font-normal">Voice</th>
          </tr>
        </thead>
        <tbody>
          {#each lines as line (`${line.key.track} ${line.key.channel} ${line.key.key}`)}
            {@const voice = voiceOf(line.key)}
            <tr
              class="border-faint border-b {over === line ? 'bg-chosen' : ''}"
              draggable="true"
              data-note={line.name}
              ondragstart={() => (dragged = line)}
              ondragover={(event) => {
                if (!dragged) return;
                event.preventDefault();
                over = line;
              }}
              ondrop={(event) => {
                event.preventDefault();
                event.stopPropagation();
                join(line);
              }}
              ondragend={() => (dragged = over = undefined)}
            >
              <td class="cursor-grab"
                ><span class="flex items-center gap-2"><Glyph kind={line.family} />{line.name}</span></td
              >
              <td class="figures">{line.key.key}</td>
              <td class="figures">{line.key.channel + 1}</td>
              <td class="text-second max-w-32 truncate">{line.track}</td>
              <td class="figures text-right">{line.hits}</td>
              <td class="figures text-right">{line.first_bar}</td>
              <td class="px-3">
                <Button
                  kind="text"
                  class="py-0!"
                  aria-label="Hear {line.name}"
                  disabled={voice === undefined}
                  onclick={() =>
                    voice !== undefined && player.audition(voice, -1, line.melodic ? line.key.key - 60 : 0)}
                  >Hear</Button
                >
              </td>
              <td>
                <Picker
                  label="Voice of {line.name}"
                  class="w-40"
                  value={voice ?? NOTHING}
                  {options}
                  onpick={(v) => send(line, v)}
                />
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  </div>
{/if}
