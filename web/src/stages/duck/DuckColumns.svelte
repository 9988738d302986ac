<!-- Heads of the columns of Duck: a key each, and one to add. -->
<script lang="ts">
  import { api } from '$lib/api/client';
  import { clickFile } from '$stages/bring-in/incoming/click';
  import { desktop } from '$stages/desktop';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import Glyph from '$lib/ui/Glyph.svelte';
  import { ADD_COLUMN, KEY_COLUMN, RECOVERY_COLUMN } from './columns';
  import { BEAT, sourceName } from '$lib/state/duckers';
  import { keyState, recovery, worst } from './matrix';
  import { ducks as isDucker } from '$lib/state/duckers';
  import { clickTrigger, rhythmTrigger, RHYTHMS, type Rhythm } from './triggers';

  const { session, board, ducks, gauge } = desktop();
  const keys = $derived(ducks.keys);
  const kindOf = (id: number) => board.rows.find((r) => r.strip.id === id)?.kind;
  const nameOf = (id: number) => sourceName(id, (strip) => session.nameOf(strip));
  /** The chosen lane, where a trigger can be like it. */
  const like = $derived.by(() => {
    const voice = board.current?.voice;
    const plays = voice?.source.kind === 'one_shot' && board.current?.strip.kind === 'channel';
    return plays ? voice : undefined;
  });
  /** The chosen recording, whose hits a trigger can have. */
  const recording = $derived.by(() => {
    const voice = board.current?.voice;
    return voice?.source.kind === 'recording' ? voice : undefined;
  });
  /** Everything that can be listened to, and triggers that can be made; main feeds nothing. */
  const others = $derived([
    ...session.doc.strips
      .filter((s) => s.kind !== 'main' && !keys.includes(s.id))
      .map((s) => ({
        value: `${s.id}`,
        text: session.nameOf(s.id) + (s.kind === 'trigger' ? ' (trigger)' : ''),
      })),
    ...(keys.includes(BEAT) ? [] : [{ value: `${BEAT}`, text: 'the beat: a shape' }]),
    ...(like
      ? [
          { value: 'like', text: `a trigger like ${like.name}` },
          { value: 'copy', text: `a trigger like ${like.name}, with hits of its own` },
        ]
      : []),
    ...(recording ? [{ value: 'recorded', text: `a trigger where ${recording.name} hits` }] : []),
    ...RHYTHMS.map((r) => ({ value: r.id as string, text: r.text })),
  ]);

  async function add(what: string) {
    const strip = Number(what);
    if (Number.isInteger(strip)) return void (board.duckKeys = [...board.duckKeys, strip]);
    const known = new Set(session.doc.strips.map((s) => s.id));
    if (what === 'like' || what === 'copy') {
      if (like) session.apply({ kind: 'new_trigger', like: like.id, follows: what === 'like' });
    } else {
      try {
        const voice = recording;
        const hits =
          what === 'recorded' && voice
            ? (await gauge.ask('Finding its hits', { about: 'recorded', voice: voice.id }))?.hits
            : undefined;
        if (what === 'recorded' && !hits) return;
        if (hits?.every((of) => of.hits.length === 0))
          return session.tell(`No trigger was made: no hit was found in ${voice?.name ?? 'it'}.`);
        const brought = await api.bringIn(session.id, clickFile(), 'Trigger click.wav');
        if (brought.kind === 'midi') return;
        session.apply(
          hits && voice
            ? clickTrigger(`${voice.name} trigger`, hits, brought.asset)
            : rhythmTrigger(what as Rhythm, session.doc.patterns, board.time, brought.asset),
        );
      } catch (error) {
        session.tell(`No trigger was made: ${(error as Error).message}`);
      }
    }
    const made = session.doc.strips.filter((s) => s.kind === 'trigger' && !known.has(s.id));
    board.duckKeys = [...board.duckKeys, ...made.map((s) => s.id)];
  }

  const starts = $derived.by(() => {
    void session.doc;
    return session.desk.duckStarts();
  });
  function begin(text: string) {
    const start = starts.find((s) => s.text === text);
    if (start) void ducks.add(start.strips, ...start.sources);
  }

  /** The rows as they recover now, the worst first; they stay so until it is pressed again. */
  function worstFirst() {
    if (board.ranks) return void (board.ranks = undefined);
    board.ranks = new Map(
      session.doc.strips.flatMap((strip): [number, number][] => {
        const heard = strip.chain
          .filter((p) => isDucker(ducks.reduces, p))
          .flatMap((p) => ducks.of(p.id) ?? []);
        const rank = worst(heard.map(recovery))?.rank;
        return rank === undefined ? [] : [[strip.id, rank]];
      }),
    );
  }
</script>

<div class="flex min-w-0 flex-1 items-center">
  {#each keys as id (id)}
    {@const state = keyState(session.doc, id)}
    {@const kind = kindOf(id)}
    <span
      class="{KEY_COLUMN} flex items-center gap-1 overflow-hidden px-2"
      title="Key: {nameOf(id)}{state ? `, ${state}` : ''}"
    >
      {#if kind}<Glyph {kind} />{/if}
      <span class="truncate {state === 'gone' ? 'text-look' : ''}">{nameOf(id)}</span>
      {#if state && state !== 'gone'}<span class="text-second truncate">{state}</span>{/if}
    </span>
  {/each}
  <span class="{ADD_COLUMN} flex gap-1 pl-2">
    <ActionMenu
      text="Add a key"
      label="Add a key to duck by"
      items={others}
      onpick={(what) => void add(what)}
    />
    <ActionMenu
      text="Starts"
      label="Ready starts"
      items={starts.map(({ text }) => ({ value: text, text }))}
      onpick={begin}
    />
  </span>
  <span class="ml-auto {RECOVERY_COLUMN}">
    <button
      class="rounded-sm px-1 {board.ranks ? 'bg-chosen' : 'hover:bg-chosen'}"
      aria-pressed={board.ranks !== undefined}
      title="Rows that recover worst come first; pressed again, rows stand as elsewhere"
      onclick={worstFirst}>{board.ranks ? 'The worst first' : 'Against the next hit'}</button
    >
  </span>
</div>
