<!-- The chosen row's way to main as steps, and routing of many rows in one action. -->
<script lang="ts">
  import type { Check, Trace } from '$lib/api/types';
  import { dbOf } from '$lib/audio/meters.svelte';
  import { FAMILIES } from '$lib/families';
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

  const trace = $derived.by((): Trace | undefined => {
    void doc;
    const row = board.current;
    return row && session.desk.trace(row.voice?.id, row.strip.id, board.loopStart, board.loop.length);
  });
  const looks = $derived(board.checks.filter((c) => !c.dismissed));
  const dismissed = $derived(board.checks.filter((c) => c.dismissed));
  let shown = $state(false);
  const dismiss = (check: Check) =>
    session.apply({ kind: 'dismiss_check', key: check.key, dismissed: !check.dismissed });
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

  /** Buses by family, as they would be made: shown before it is done. */
  let proposing = $state(false);
  const proposal = $derived.by(() => {
    const lanes = (board.chosen.filter((r) => r.voice).length > 1 ? board.chosen : board.rows).filter(
      (r) => r.voice,
    );
    return FAMILIES.map(({ value, bus }) => ({
      name: bus,
      rows: lanes.filter((r) => r.voice?.family === value),
    })).filter((group) => group.rows.length > 0);
  });
  function familyBuses() {
    const groups = proposal.map(({ name, rows }) => ({
      name,
      strips: [...new Set(rows.map((r) => r.strip.id))],
    }));
    if (session.apply({ kind: 'group_on_buses', groups })) proposing = false;
  }
  const count = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;
</script>

<div class="grid h-full grid-cols-[minmax(0,1fr)_330px_minmax(0,300px)] gap-6">
  <div class="min-w-0 overflow-auto" aria-label="Trace" role="region">
    {#if trace}
      {@const repair = trace.repair}
      <p class="flex flex-wrap items-center gap-3" role="status">
        <span class={trace.silent ? 'text-wrong' : ''}>{trace.sentence}</span>
        {#if repair}
          <Button kind="first" onclick={() => session.apply(repair.edit)}>{repair.name}</Button>
        {/if}
      </p>
      <ol class="mt-3 flex flex-wrap gap-y-2">
        {#each trace.steps as step, at (step.strip)}
          <li class="w-28 min-w-0">
            <div class="flex items-center">
              <span class="h-3 w-3 shrink-0 rounded-full {step.stop ? 'bg-wrong' : 'bg-ink'}"></span>
              {#if at < trace.steps.length - 1}<span class="h-[3px] flex-1 {step.stop ? 'bg-line' : 'bg-ink'}"
                ></span>{/if}
            </div>
            <p class="mt-1 truncate pr-2 {step.stop ? 'text-wrong' : ''}" title={step.stop}>{step.name}</p>
            <p class="figures text-second truncate">{level(step.strip)}</p>
          </li>
        {/each}
      </ol>
    {/if}
  </div>
  <div class="grid content-start gap-3 overflow-auto">
    <h2 class="font-semibold">
      {strips.length === 0
        ? 'Choose rows to route them'
        : `Route ${count(board.chosen.length, 'chosen row')}`}
    </h2>
    {#if proposing}
      <ul aria-label="Family buses, as they would be">
        {#each proposal as group (group.name)}
          <li class="truncate"><b>{group.name}</b>: {group.rows.map((r) => r.name).join(', ')}</li>
        {/each}
      </ul>
      <p class="flex gap-3">
        <Button kind="first" onclick={familyBuses}>Make these buses</Button>
        <Button kind="text" onclick={() => (proposing = false)}>Leave it</Button>
      </p>
    {:else}
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
          <Button onclick={() => session.apply({ kind: 'remove_bus', bus })}
            >Remove {board.current.name}</Button
          >
        {/if}
        <Button disabled={proposal.length === 0} onclick={() => (proposing = true)}>Family buses …</Button>
        <Button
          kind="text"
          onclick={() => (board.selected = board.rows.filter((r) => r.voice).map((r) => r.key))}
        >
          Choose all lanes
        </Button>
      </div>
    {/if}
  </div>
  <div class="min-h-0 overflow-auto" aria-label="Checks" role="region">
    <h2 class="font-semibold">
      {looks.length === 0 ? 'Nothing else worth a look' : `${count(looks.length, 'thing')} worth a look`}
    </h2>
    <ul class="mt-1">
      {#each shown ? board.checks : looks as check (check.key)}
        {@const repair = check.repair}
        <li class="border-faint border-b py-1 {check.dismissed ? 'text-second' : ''}">
          <p>{check.sentence}</p>
          <p class="flex gap-3 text-[12px]">
            {#if repair}<button class="underline" onclick={() => session.apply(repair.edit)}
                >{repair.name}</button
              >{/if}
            <button class="text-second underline" onclick={() => dismiss(check)}
              >{check.dismissed ? 'Show again' : 'Do not show'}</button
            >
          </p>
        </li>
      {/each}
    </ul>
    {#if dismissed.length > 0}
      <button class="text-second mt-1 text-[12px] underline" onclick={() => (shown = !shown)}
        >{shown ? 'Hide' : 'Show'} {count(dismissed.length, 'dismissed check')}</button
      >
    {/if}
  </div>
</div>
