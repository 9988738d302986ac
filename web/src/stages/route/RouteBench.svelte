<!-- The chosen row's way to main as steps, and routing of many rows in one action. -->
<script lang="ts">
  import { dbOf } from '$lib/audio/meters.svelte';
  import { stripName } from '$lib/state/board.svelte';
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';

  const { session, player, board } = desktop();
  const doc = $derived(session.doc);
  const voices = $derived(board.chosen.flatMap((r) => (r.voice ? [r.voice.id] : [])));
  const shared = $derived(board.chosen.filter((r) => r.voice && r.shares.length > 0));
  const strips = $derived([...new Set(board.chosen.filter((r) => r.kind !== 'main').map((r) => r.strip.id))]);
  const buses = $derived(doc.strips.filter((s) => s.kind === 'bus'));
  let busName = $state('');

  const way = $derived.by(() => {
    const row = board.current;
    const walk = [];
    for (let at = row?.strip; at && walk.length < doc.strips.length;) {
      walk.push(at);
      const next: number | null = at.output;
      at = doc.strips.find((s) => s.id === next);
    }
    return walk;
  });
  const level = (strip: number) => {
    void player.meters.tick;
    const db = dbOf(player.meters.level(strip, 'out').held);
    return db > -60 ? `${db.toFixed(1)} dBFS` : 'silent';
  };

  function newBus(event: SubmitEvent) {
    event.preventDefault();
    if (
      session.apply({ kind: 'new_bus', name: busName.trim() || `Bus ${buses.length + 1}`, feeders: strips })
    )
      busName = '';
  }
  const count = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;
</script>

<div class="grid h-full grid-cols-[minmax(0,1fr)_420px] gap-8">
  <div class="min-w-0">
    <h2>
      <b>{board.current?.name}</b>
      <span class="text-second">to main</span>
    </h2>
    <ol class="mt-4 flex">
      {#each way as strip, at (strip.id)}
        {@const stopped = strip.mute || (strip.output === null && strip.kind !== 'main')}
        <li class="w-32 min-w-0">
          <div class="flex items-center">
            <span class="h-3 w-3 shrink-0 rounded-full {stopped ? 'bg-wrong' : 'bg-ink'}"></span>
            {#if at < way.length - 1}<span class="h-[3px] flex-1 {stopped ? 'bg-line' : 'bg-ink'}"
              ></span>{/if}
          </div>
          <p class="mt-1 truncate pr-2 {stopped ? 'text-wrong' : ''}">{stripName(doc, strip.id)}</p>
          <p class="figures text-second truncate">{level(strip.id)}</p>
          {#if strip.mute}
            <button
              class="underline"
              onclick={() =>
                session.apply({
                  kind: 'set_strips',
                  strips: [strip.id],
                  change: { what: 'mute', to: false },
                })}>Unmute</button
            >
          {:else if strip.output === null && strip.kind !== 'main'}
            <p class="text-wrong">goes to nothing</p>
          {/if}
        </li>
      {/each}
    </ol>
  </div>
  <div class="grid content-start gap-3 overflow-auto">
    <h2 class="font-semibold">
      {strips.length === 0
        ? 'Choose rows to route them'
        : `Route ${count(board.chosen.length, 'chosen row')}`}
    </h2>
    <form class="flex gap-2" onsubmit={newBus}>
      <input
        class="border-line bg-panel min-w-0 flex-1 rounded-md border px-2"
        aria-label="Name of the new bus"
        placeholder="Name of a new bus"
        maxlength="80"
        bind:value={busName}
      />
      <Button kind="first" type="submit" disabled={strips.length === 0}>Put on a new bus</Button>
    </form>
    <div class="flex flex-wrap items-center gap-2">
      <Picker
        label="Send the chosen rows to"
        value={-2}
        options={[
          { value: -2, text: 'Send to a bus …' },
          ...buses.filter((b) => !strips.includes(b.id)).map((b) => ({ value: b.id, text: b.name })),
        ]}
        onpick={(to) =>
          to > 0 && strips.length > 0 && session.apply({ kind: 'set_output', strips, output: to })}
      />
      <Button
        disabled={shared.length === 0}
        title="Voices that share a channel get one each"
        onclick={() => session.apply({ kind: 'own_channels', voices })}>Channels of their own</Button
      >
      <Button
        disabled={voices.length < 2}
        title="The chosen voices run on the first one's channel"
        onclick={() => {
          const channel = board.chosen.find((r) => r.voice)?.strip.id;
          if (channel) session.apply({ kind: 'share_channel', voices, channel });
        }}>Share one channel</Button
      >
      {#if board.current?.kind === 'bus'}
        {@const bus = board.current.strip.id}
        <Button onclick={() => session.apply({ kind: 'remove_bus', bus })}>Remove {board.current.name}</Button
        >
      {/if}
      <Button
        kind="text"
        onclick={() => (board.selected = board.rows.filter((r) => r.voice).map((r) => r.key))}
      >
        Choose all lanes
      </Button>
    </div>
  </div>
</div>
