<!-- Below the board: the chosen row's part in this stage. Resizable. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import { STAGES } from '../stages/registry';
  import SaveTrouble from './SaveTrouble.svelte';

  const { session, player, board } = desktop();
  const fault = $derived(
    player.fault
      ? `A processor of ${session.nameOf(player.fault)} gave no numbers and was started afresh. Look at its values.`
      : '',
  );
  const problem = $derived(session.message || player.problem || fault);
  const stage = $derived(STAGES.find((s) => s.id === board.stage));
  /** What is left for the board and the header at least. */
  const ABOVE = 230;
  let windowHeight = $state(800);
  const limits = $derived([120, Math.max(300, windowHeight - ABOVE)] as const);
  const held = (height: number) => Math.max(limits[0], Math.min(limits[1], height));
  /** As large as it can be, or as it was before. */
  let before = 0;
  function enlarge() {
    const large = board.benchHeight >= limits[1];
    [before, board.benchHeight] = [board.benchHeight, large && before > 0 ? before : limits[1]];
  }
  let drag: { y: number; height: number } | undefined;
</script>

<svelte:window bind:innerHeight={windowHeight} />
<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  role="separator"
  tabindex="0"
  aria-orientation="horizontal"
  aria-label="Height of the bench"
  aria-valuenow={board.benchHeight}
  aria-valuemin={limits[0]}
  aria-valuemax={limits[1]}
  class="border-line group grid h-[7px] shrink-0 cursor-row-resize touch-none place-items-center border-t"
  onpointerdown={(event) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    drag = { y: event.clientY, height: board.benchHeight };
  }}
  onpointermove={(event) => drag && (board.benchHeight = held(drag.height + drag.y - event.clientY))}
  onpointerup={() => (drag = undefined)}
  ondblclick={enlarge}
  title="Drag to resize, double click to make it large"
  onkeydown={(event) => {
    const by = { ArrowUp: 20, ArrowDown: -20 }[event.key];
    if (event.key === 'Enter') enlarge();
    if (by) board.benchHeight = held(board.benchHeight + by);
  }}
>
  <div class="bg-line h-[3px] w-10 rounded-full"></div>
</div>
<section
  data-bench
  class="bg-raised relative shrink-0 overflow-auto px-5 py-3"
  aria-label="Bench"
  style:height="{held(board.benchHeight)}px"
>
  <div class="absolute top-2 right-4 z-10 grid max-w-xl justify-items-end gap-2">
    <SaveTrouble />
    {#if problem}
      <div class="border-wrong bg-panel flex items-center gap-3 rounded-md border px-3 py-1.5">
        <p role="alert">{problem}</p>
        <button
          class="underline"
          onclick={() => {
            session.message = player.problem = '';
            player.fault = 0;
          }}>Close</button
        >
      </div>
    {/if}
  </div>
  {#if stage}<stage.Bench />{/if}
</section>
