<!-- Routing of the chosen rows in one action. -->
<script lang="ts">
  import { LIMITS } from '$lib/api/types/limits';
  import { FAMILIES } from '$lib/families';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import { counted } from '$lib/ui/counted';
  import Picker from '$lib/ui/Picker.svelte';
  import InsertLanes from './InsertLanes.svelte';

  const { session, board } = desktop();
  const doc = $derived(session.doc);
  const voices = $derived(board.chosen.flatMap((r) => (r.voice ? [r.voice.id] : [])));
  /** The first of the chosen voices, whose channel they can share. */
  const leading = $derived(board.chosen.find((r) => r.voice));
  const shared = $derived(board.chosen.filter((r) => r.voice && r.shares.length > 0));
  const strips = $derived([
    ...new Set(
      board.chosen.filter((r) => r.kind !== 'main' && r.strip.kind !== 'trigger').map((r) => r.strip.id),
    ),
  ]);
  const targets = $derived(doc.strips.filter((s) => s.kind === 'bus' || s.kind === 'main'));

  let busName = $state('');
  function newBus(event: SubmitEvent) {
    event.preventDefault();
    const name = busName.trim() || 'Bus';
    if (session.apply({ kind: 'new_bus', name, feeders: strips })) busName = '';
  }

  /** Buses by family, as they would be made: shown before it is done. */
  let proposing = $state(false);
  const proposal = $derived.by(() => {
    const lanes = (board.chosen.filter((r) => r.voice).length > 1 ? board.chosen : board.rows).filter(
      (r) => r.voice && r.strip.kind !== 'trigger',
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

  /** A bus or return on its way out, and where what went to it goes. */
  let removing = $state<number>();
  let heirs = $state(-1);
  const leaving = $derived(doc.strips.find((s) => s.id === removing));
  const feeders = $derived(doc.strips.filter((s) => s.output === removing).length);
  const senders = $derived(doc.strips.filter((s) => s.sends.some((d) => d.to === removing)).length);
  function ask() {
    const strip = board.current?.strip;
    if (!strip) return;
    removing = strip.id;
    heirs = strip.output ?? -1;
  }
  function remove() {
    if (removing === undefined) return;
    const feeders_to = heirs < 0 ? null : heirs;
    if (session.apply({ kind: 'remove_strip', strip: removing, feeders_to })) removing = undefined;
  }
  let inserting = $state(false);
</script>

{#if proposing}
  <ul aria-label="Family buses, as they would be">
    {#each proposal as group (group.name)}
      <li class="truncate"><b>{group.name}</b>: {group.rows.map((r) => r.name).join(', ')}</li>
    {/each}
  </ul>
  <p class="mt-2 flex gap-3">
    <Button kind="first" onclick={familyBuses}>Make these buses</Button>
    <Button kind="text" onclick={() => (proposing = false)}>Leave it</Button>
  </p>
{:else if leaving}
  <div class="grid gap-2" role="group" aria-label="Remove {leaving.name}">
    <p>
      Remove <b>{leaving.name}</b>?
      {#if feeders > 0}{counted(feeders, 'row')} {feeders === 1 ? 'goes' : 'go'} to it.{/if}
      {#if senders > 0}{counted(senders, 'send')} to it {senders === 1 ? 'goes' : 'go'} with it.{/if}
    </p>
    {#if feeders > 0}
      <Picker
        label="They go on to"
        named
        value={heirs}
        options={[
          ...targets.filter((t) => t.id !== removing).map((t) => ({ value: t.id, text: t.name })),
          { value: -1, text: 'Nothing' },
        ]}
        onpick={(to) => (heirs = to)}
      />
    {/if}
    <p class="flex gap-3">
      <Button kind="first" onclick={remove}>Remove {leaving.name}</Button>
      <Button kind="text" onclick={() => (removing = undefined)}>Keep it</Button>
    </p>
  </div>
{:else}
  <div class="grid content-start gap-2">
    <form class="flex gap-2" onsubmit={newBus}>
      <input
        class="border-line bg-panel min-w-0 flex-1 rounded-md border px-2"
        aria-label="Name of the new bus"
        placeholder="Name of a new bus"
        maxlength={LIMITS.name_chars}
        bind:value={busName}
      />
      <Button kind="first" type="submit" disabled={strips.length === 0}>Put on a new bus</Button>
    </form>
    <div class="flex flex-wrap items-center gap-2">
      <ActionMenu
        text="Send to a bus"
        label="Send to a bus: the chosen rows"
        disabled={strips.length === 0}
        items={[
          ...targets
            .filter((b) => b.kind === 'bus' && !strips.includes(b.id))
            .map((b) => ({ value: b.id, text: b.name })),
          { value: -1, text: 'Nothing, on purpose' },
        ]}
        onpick={(to) => session.apply({ kind: 'set_output', strips, output: to < 0 ? null : to })}
      />
      <Button
        disabled={shared.length === 0}
        title="Voices that share a channel get one each"
        onclick={() => session.apply({ kind: 'own_channels', voices })}>Channels of their own</Button
      >
      <Button
        disabled={voices.length < 2}
        title="The chosen voices run on the channel of {leading?.name ?? 'the first one'}"
        onclick={() => {
          if (leading) session.applySure({ kind: 'share_channel', voices, channel: leading.strip.id });
        }}>Share the channel{leading ? ` of ${leading.name}` : ''}</Button
      >
      <Button disabled={proposal.length === 0} onclick={() => (proposing = true)}>Family buses …</Button>
      {#if board.current?.kind === 'bus' || board.current?.kind === 'return'}
        <Button onclick={ask}>Remove {board.current.name} …</Button>
      {/if}
      <Button onclick={() => (inserting = true)}>Lanes from a template …</Button>
      <Button
        kind="text"
        onclick={() => (board.selected = board.rows.filter((r) => r.voice).map((r) => r.key))}
      >
        Choose all lanes
      </Button>
    </div>
  </div>
{/if}
<InsertLanes bind:open={inserting} />
