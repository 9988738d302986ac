<!-- What the chosen row is connected to: its sends, its keys, what it is itself. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import { desktop } from '$stages/desktop';
  import { plainSend } from '$lib/state/sends';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import Button from '$lib/ui/Button.svelte';
  import { keyName, keyOf, sourcesOf } from '$lib/state/duckers';
  import SendFields from './SendFields.svelte';

  const { session, board } = desktop();
  const doc = $derived(session.doc);
  const row = $derived(board.current);
  const strip = $derived(row?.strip);
  const strips = $derived([...new Set(board.chosen.filter((r) => r.kind !== 'main').map((r) => r.strip.id))]);
  const returns = $derived(doc.strips.filter((s) => s.kind === 'return' && s.id !== strip?.id));
  const open = $derived(returns.filter((r) => !strip?.sends.some((s) => s.to === r.id)));
  const keyed = $derived(strip?.chain.filter((p) => p.key) ?? []);
  const keys = $derived(
    doc.strips.flatMap((s) =>
      s.chain.flatMap((p) => (strip && sourcesOf(p).includes(strip.id) ? [{ strip: s, processor: p }] : [])),
    ),
  );
  const sources = $derived(
    doc.strips
      .filter((s) => s.id !== strip?.id && s.kind !== 'main')
      .map((s) => ({ value: s.id, text: session.nameOf(s.id) })),
  );

  function sendTo(to: number) {
    session.apply({ kind: 'set_send', strips: strips.filter((id) => id !== to), send: plainSend(to) });
  }
  function newReturn() {
    session.apply({ kind: 'new_return', name: 'Return', feeders: strips, silent: false });
  }
  function duckBy(source: number) {
    if (!strip) return;
    const { ducker } = session.desk.ready;
    const key = keyOf(session.desk, source);
    session.apply({ kind: 'add_processor', strips: [strip.id], settings: ducker, key, at: null });
  }
  function shape(processor: number, of: number) {
    const key = board.rows.find((r) => r.strip.id === of)?.key;
    if (key) board.selected = [key];
    board.processor = processor;
    board.stage = 'shape';
  }
</script>

{#if row && strip}
  <div class="grid content-start gap-2">
    {#if strip.kind === 'trigger' && row.voice}
      {@const voice = row.voice.id}
      <p>A trigger: never heard, in no stem; it only feeds keys.</p>
      <p>
        <Button onclick={() => session.apply({ kind: 'set_triggers', voices: [voice], trigger: false })}
          >Make it a lane that is heard</Button
        >
      </p>
    {:else if row.kind !== 'main'}
      <div>
        <h2 class="text-second text-[12px]">Sends of {row.name}: level, tap, pan</h2>
        <ul>
          {#each strip.sends as send (send.to)}
            <li class="flex items-center gap-2">
              <span class="w-24 truncate">{session.nameOf(send.to)}</span>
              <SendFields {strip} to={send.to} />
            </li>
          {:else}
            <li class="text-second">none yet</li>
          {/each}
        </ul>
      </div>
      <div class="flex flex-wrap items-center gap-2">
        {#if open.length > 0}
          <ActionMenu
            text="Send to a return"
            label="Send to a return: the chosen rows"
            items={open.map((r) => ({ value: r.id, text: r.name }))}
            onpick={sendTo}
          />
        {/if}
        <Button title="Sends from the chosen rows at 0 dB after their faders" onclick={newReturn}
          >Send to a new return</Button
        >
      </div>
    {/if}
    <div class="border-faint border-t pt-1">
      <h2 class="text-second text-[12px]">Keys</h2>
      {#each keyed as processor (processor.id)}
        <p>
          Its {session.desk.nameOf(processor).toLowerCase()} listens to
          {keyName(processor, (id) => session.nameOf(id))}.
          <button class="underline" onclick={() => shape(processor.id, strip.id)}>Open</button>
        </p>
      {/each}
      {#each keys as { strip: other, processor } (processor.id)}
        <p>
          It keys the {session.desk.nameOf(processor).toLowerCase()} of {session.nameOf(other.id)}.
          <button class="underline" onclick={() => shape(processor.id, other.id)}>Open</button>
        </p>
      {/each}
      <div class="mt-1 flex flex-wrap items-center gap-2">
        {#if strip.kind !== 'trigger'}
          <ActionMenu text="Duck {row.name} by" label="Duck {row.name} by" items={sources} onpick={duckBy} />
        {/if}
        {#if row.voice && strip.kind !== 'trigger'}
          {@const voice = row.voice.id}
          <Button
            title="A silent lane that plays what {row.name} plays, for keys"
            onclick={() => session.apply({ kind: 'new_trigger', like: voice, follows: true })}
            >New trigger like it</Button
          >
          <Button
            title="Never heard any more, in no stem; it only feeds keys"
            onclick={() => session.applySure({ kind: 'set_triggers', voices: [voice], trigger: true })}
            >Make it a trigger</Button
          >
        {/if}
      </div>
    </div>
    {#if row.kind === 'return' || row.kind === 'bus'}
      <label class="flex items-center gap-2">
        <CheckMark
          checked={strip.solo_safe}
          onchange={(to) =>
            session.apply({
              kind: 'set_strips',
              strips: [strip.id],
              change: { what: 'solo_safe', to: to },
            })}
        />
        Goes on while others are soloed
      </label>
    {/if}
    {#if row.kind === 'bus' || row.kind === 'main'}
      {#if session.doc.mix_bus === strip.id}
        <p class="text-muted">This is the mix bus: new rows go here.</p>
      {:else}
        <div>
          <Button
            title="The mix comes together in {row.name}; new rows go here"
            onclick={() => session.apply({ kind: 'set_mix_bus', strip: strip.id })}
            >Make it the mix bus</Button
          >
        </div>
      {/if}
    {/if}
  </div>
{/if}
