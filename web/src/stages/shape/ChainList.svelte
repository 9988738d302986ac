<!-- The chosen row's chain as a list: switched, moved, added, doubled, copied, in another order, kept as a preset. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import { setProcessor } from '$lib/state/edits';
  import type { Processor, ProcessorChange, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import { counted } from '$lib/ui/counted';
  import { moveProcessor } from './order';
  import Presets from './Presets.svelte';

  interface Props {
    strip: Strip;
    name: string;
    current: Processor | undefined;
  }
  let { strip, name, current }: Props = $props();
  const { session, board } = desktop();
  const kinds = $derived(session.desk.kinds);
  const chain = $derived(strip.chain);
  const nameOf = (p: Processor) => session.desk.nameOf(p);
  const strips = $derived(board.strips.filter((id) => id !== strip.id));
  /** Rows that get copies, by name as long as they are few. */
  const names = $derived(
    strips.length < 3 ? strips.map((id) => session.nameOf(id)).join(' and ') : counted(strips.length, 'row'),
  );

  const set = (processor: number, change: ProcessorChange) =>
    session.apply(setProcessor(strip.id, processor, change));
  function add(at: number) {
    const chosen = kinds[at];
    if (!chosen) return;
    session.apply({
      kind: 'add_processor',
      strips: [strip.id, ...strips],
      settings: chosen.default,
      key: null,
      at: null,
    });
    board.processor = board.current?.strip.chain.at(-1)?.id;
  }
  function double() {
    if (!current) return;
    const at = chain.indexOf(current) + 1;
    session.apply({
      kind: 'insert_processors',
      strips: [strip.id],
      processors: [current],
      at,
      replace: false,
    });
    board.processor = board.current?.strip.chain[at]?.id;
  }
  const copy = (processors: number[], replace: boolean) =>
    session.applySure({ kind: 'copy_chain', from: strip.id, processors, to: strips, replace });
  const COPIES = [
    { whole: true, replace: false, text: () => 'The chain, behind what they have' },
    { whole: true, replace: true, text: () => 'The chain, instead of what they have' },
    {
      whole: false,
      replace: false,
      text: (of: string) => `The ${of.toLowerCase()} alone, behind what they have`,
    },
  ];

  const order = $derived(chain.map((p) => p.id));
  /** The order before the last move, to be compared with. */
  const other = $derived.by(() => {
    const kept = board.otherOrders[strip.id]?.filter((id) => order.includes(id)) ?? [];
    return kept.length === order.length && kept.join() !== order.join() ? kept : undefined;
  });
  const move = (processor: number, to: number) => moveProcessor(session, board, strip.id, processor, to);
  function flip() {
    if (!other) return;
    const before = order;
    if (session.apply({ kind: 'order_chain', strip: strip.id, order: other }))
      board.otherOrders[strip.id] = before;
  }

  let dragged = $state<number>();
  function drop(to: number) {
    if (dragged !== undefined) move(dragged, to);
    dragged = undefined;
  }
  function chainKey(event: KeyboardEvent, at: number) {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const processor = chain[at];
    if (!by || !event.altKey || !processor) return;
    event.preventDefault();
    event.stopPropagation();
    move(processor.id, Math.max(0, Math.min(chain.length - 1, at + by)));
  }
</script>

<div class="flex min-h-0 flex-col gap-2">
  <h2 class="truncate font-semibold">Chain of {name}</h2>
  <ol class="min-h-0 flex-1 overflow-auto" aria-label="Chain of {name}">
    {#each chain as processor, at (processor.id)}
      <li
        class="flex items-center gap-2 {dragged !== undefined && dragged !== processor.id
          ? 'border-line border-t'
          : ''}"
        draggable="true"
        ondragstart={() => (dragged = processor.id)}
        ondragend={() => (dragged = undefined)}
        ondragover={(event) => event.preventDefault()}
        ondrop={() => drop(at)}
      >
        <CheckMark
          name="{nameOf(processor)} {at + 1} on"
          checked={processor.on}
          onchange={(to) => {
            board.processor = processor.id;
            set(processor.id, { what: 'on', to: to });
          }}
        />
        <button
          class="min-w-0 flex-1 cursor-grab truncate rounded-sm px-1 py-[3px] text-left {current?.id ===
          processor.id
            ? 'bg-chosen font-semibold'
            : 'hover:bg-chosen'}"
          title="Drag, or Alt with the arrow keys, to move it"
          onkeydown={(event) => chainKey(event, at)}
          onclick={() => (board.processor = processor.id)}>{at + 1}. {nameOf(processor)}</button
        >
        <button
          class="text-second underline"
          aria-label="Remove {nameOf(processor)} {at + 1}"
          onclick={() =>
            session.apply({ kind: 'remove_processors', strip: strip.id, processors: [processor.id] })}
          >remove</button
        >
      </li>
    {:else}
      <li class="text-second">No processors yet. Add the first one below.</li>
    {/each}
  </ol>
  <div class="flex flex-wrap gap-x-3 gap-y-1">
    <ActionMenu
      text="Add"
      label="Add a processor"
      items={kinds.map((k, at) => ({ value: at, text: k.name }))}
      onpick={add}
    />
    <Presets {strip} {current} />
    {#if current}
      <Button kind="text" title="The same processor once more, behind it" onclick={double}>Double it</Button>
    {/if}
    {#if other}
      <Button kind="text" title="The order before the last move, and back" onclick={flip}
        >Compare orders</Button
      >
    {/if}
    {#if current && strips.length > 0}
      <!-- From which row, to which rows, and whether behind what they have or instead of it. -->
      <ActionMenu
        text="Copy to {names}"
        label="Copy from {name} to {names}"
        items={COPIES.map(({ text }, at) => ({ value: at, text: text(nameOf(current)) }))}
        onpick={(at) => {
          const how = COPIES[at];
          if (current && how) copy(how.whole ? [] : [current.id], how.replace);
        }}
      />
    {/if}
  </div>
</div>
