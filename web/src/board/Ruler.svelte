<!-- The song on a slim ruler: sections above, bars below, the loop range between, the position across. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import { barsAt } from '$lib/ui/counted';
  import { numbersEvery } from './ruler';

  const { session, player, board } = desktop();
  const total = $derived(Math.max(1, board.bars.length));
  const percent = (bars: number) => `${(bars / total) * 100}%`;
  const placed = $derived.by(() => {
    let from = 0;
    return session.doc.sections.map((section) => {
      const at = from;
      from += section.bars;
      return { section, from: at };
    });
  });
  let width = $state(0);
  const every = $derived(numbersEvery(total, width));

  let bar: HTMLDivElement;
  let drag: { from: number } | undefined;
  const barAt = (event: PointerEvent) => {
    const box = bar.getBoundingClientRect();
    return Math.max(0, Math.min(total - 1, Math.floor(((event.clientX - box.left) / box.width) * total)));
  };
  function down(event: PointerEvent) {
    bar.setPointerCapture(event.pointerId);
    drag = { from: barAt(event) };
    board.setLoop(drag.from, 1);
  }
  function move(event: PointerEvent) {
    if (!drag) return;
    const to = barAt(event);
    board.setLoop(Math.min(drag.from, to), Math.abs(to - drag.from) + 1);
  }
  function key(event: KeyboardEvent) {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!by) return;
    event.preventDefault();
    if (event.shiftKey) board.setLoop(board.loopStart, board.loop.length + by);
    else board.setLoop(board.loopStart + by, board.loop.length);
  }
</script>

<div class="relative h-10 min-w-0 flex-1">
  <div class="flex h-[18px] gap-px">
    {#each placed as { section, from } (section.id)}
      <button
        class="min-w-0 truncate px-1 text-left text-[12px] {from === board.loopStart &&
        section.bars === board.loop.length
          ? 'bg-chosen font-semibold'
          : 'bg-faint hover:bg-chosen'}"
        style:width={percent(section.bars)}
        title="Loop {section.name}, {barsAt(from, section.bars)}"
        onclick={() => board.setLoop(from, section.bars)}>{section.name}</button
      >
    {/each}
  </div>
  <div
    bind:this={bar}
    bind:clientWidth={width}
    role="slider"
    tabindex="0"
    aria-label="Loop range; arrow keys move it, with Shift they change its length"
    aria-valuemin={1}
    aria-valuemax={total}
    aria-valuenow={board.loopStart + 1}
    aria-valuetext={barsAt(board.loopStart, board.loop.length)}
    class="relative h-[20px] cursor-ew-resize touch-none"
    onpointerdown={down}
    onpointermove={move}
    onpointerup={() => (drag = undefined)}
    onpointercancel={() => (drag = undefined)}
    onkeydown={key}
  >
    <div
      class="bg-ink absolute top-[2px] h-[4px]"
      style:left={percent(board.loopStart)}
      style:width={percent(board.loop.length)}
    ></div>
    {#each board.bars as { bar: number } (number)}
      {#if number % every === 0}
        <div class="border-third absolute top-[6px] h-[6px] border-l" style:left={percent(number)}></div>
        <span
          class="figures text-second absolute top-[7px] pl-[3px] text-[10px]!"
          style:left={percent(number)}>{number + 1}</span
        >
      {/if}
    {/each}
  </div>
  <div
    class="pointer-events-none absolute inset-y-0 w-[2px]"
    style:background="var(--low)"
    style:left="calc({percent(Math.min(board.positionBars, total))} - 1px)"
    style:opacity={player.playing || player.position > 0 ? 1 : 0.4}
  ></div>
</div>
