<script lang="ts">
  import { LIMITS } from '$lib/api/types/limits';
  import { range } from '$lib/limits';
  import { dbOf } from '$lib/audio/meters.svelte';
  import { api } from '$lib/api/client';
  import { SIXTEENTH } from '$lib/state/board.svelte';
  import { desktop } from '$stages/desktop';
  import { place } from '$lib/state/place.svelte';
  import LevelBar from '$lib/ui/LevelBar.svelte';
  import MeterSurface from '$lib/ui/MeterSurface.svelte';
  import NameField from '$lib/ui/NameField.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';
  import { DropdownMenu } from 'bits-ui';
  import SideSwitch from './SideSwitch.svelte';
  import Walked from './Walked.svelte';
  import Ruler from './Ruler.svelte';
  import SaveTemplate from './SaveTemplate.svelte';

  let { ontoggle, onshortcuts }: { ontoggle: () => void; onshortcuts: () => void } = $props();
  let templating = $state(false);
  const { session, player, board, sides } = desktop();
  const header = $derived(session.header);

  const positionText = $derived.by(() => {
    const { beat_ticks, bar_ticks } = board.time;
    const [beat, bar] = [beat_ticks / SIXTEENTH, bar_ticks / SIXTEENTH];
    const sixteenths = Math.floor(board.positionBars * bar + 1e-6);
    return `${Math.floor(sixteenths / bar) + 1}.${Math.floor((sixteenths % bar) / beat) + 1}.${Math.floor(sixteenths % beat) + 1}`;
  });

  const main = $derived(session.doc.strips.find((s) => s.kind === 'main'));
  /** What is written of main. */
  const level = $derived.by(() => {
    void player.meters.slow;
    return { lufs: player.meters.lufs, truePeak: player.meters.truePeak };
  });
  const bars = (side: 0 | 1) => () => {
    const { peak, rms, held } = player.meters.level(main?.id ?? 0, 'out');
    return { peak: peak[side], rms: rms[side], held, over: false };
  };
  const target = $derived(session.header.targets.sum_dbtp);
  const room = $derived(target - dbOf(level.truePeak));
  const figure = (db: number) => (Number.isFinite(db) && db > -99 ? db.toFixed(1) : '–');
  const saved = { saved: 'saved', kept: 'kept here', waiting: 'waiting' };
  const savedHint = $derived(session.whereabouts || 'The server has everything.');

  const setHeader = (change: Partial<typeof header>) =>
    session.apply({ kind: 'set_header', header: { ...header, ...change } });
  const walks = $derived([
    {
      name: 'Undo',
      keys: 'Ctrl Z',
      label: session.trial
        ? `${session.trial.name}, ${session.trial.heard ? 'heard' : 'not kept yet'}`
        : session.undoLabel,
      go: session.undo,
      arrow: 'M6 3 2.5 6.5 6 10M3 6.5h8a4 4 0 0 1 0 8H6',
    },
    {
      name: 'Redo',
      keys: 'Ctrl Shift Z',
      label: session.redoLabel,
      go: session.redo,
      arrow: 'm12 3 3.5 3.5L12 10M15 6.5H7a4 4 0 0 0 0 8h5',
    },
  ]);
  const item = 'data-highlighted:bg-chosen cursor-pointer rounded-sm px-3 py-1.5 outline-none';
</script>

<header class="bg-ground border-line relative col-span-2 flex items-center gap-5 border-b px-4">
  <div class="w-40 min-w-0 shrink-0">
    <h1>
      <NameField
        label="Session title"
        value={header.title}
        max={LIMITS.title_chars}
        class="text-[15px] font-semibold"
        onname={(title) => setHeader({ title })}
      />
    </h1>
    <p class="text-second truncate" role="status" title={savedHint}>{saved[session.saving]}</p>
  </div>
  <button
    class="bg-ink text-panel grid h-9 w-9 shrink-0 place-items-center rounded-full"
    aria-label={player.playing ? 'Stop' : 'Play'}
    title="Space"
    onclick={ontoggle}
  >
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true" fill="currentColor">
      <path d={player.playing ? 'M2.5 2.5h9v9h-9z' : 'M3.5 1.5v11l9-5.5z'} />
    </svg>
  </button>
  <div class="w-32 shrink-0">
    <output class="figures block text-[16px]!" aria-label="Position in bars, beats, sixteenths"
      >{positionText}</output
    >
    <div class="text-second figures flex items-center">
      <ValueField
        label="Tempo"
        value={header.tempo_bpm}
        {...range('tempo_bpm')}
        unit="bpm"
        reset={120}
        digits={header.tempo_bpm % 1 ? 2 : 0}
        class="-ml-1 w-auto! text-left"
        oncommit={(tempo_bpm) => setHeader({ tempo_bpm })}
      />
      <span>bpm · {header.metre.beats}/{header.metre.unit}</span>
    </div>
  </div>
  <Ruler />
  {#if sides.hidden}
    <p class="text-second w-(--main-meter) shrink-0">
      Meters are out of sight while nobody is to know what is heard.
    </p>
  {:else}
    <div class="w-(--main-meter) shrink-0" aria-label="Main level">
      <div class="flex justify-between text-[12px]">
        {#if player.strained}
          <span
            role="status"
            class="text-wrong whitespace-nowrap"
            title="This computer is too busy to work out sound in time, so it breaks. Close what else runs, hear fewer sides, or switch processors off that you do not need now. Stems are not concerned."
            >Sound comes late</span
          >
        {:else}
          <span class="text-second">Main</span>
        {/if}
        {#if Number.isFinite(room)}
          <span
            class={room >= 0 ? 'text-good' : 'text-wrong'}
            title="To the target of the sum, {target.toFixed(1)} dBTP"
            >{Math.abs(room).toFixed(1)} dB {room >= 0 ? 'room' : `over ${target.toFixed(1)} dBTP`}</span
          >
        {/if}
      </div>
      <MeterSurface meters={player.meters}>
        {#each [0, 1] as const as side (side)}
          <LevelBar read={bars(side)} color="var(--ink)" class="h-[9px] w-full" />
        {/each}
      </MeterSurface>
      <p class="figures mt-[2px] flex justify-between text-[11px]! tracking-[-0.02em] whitespace-nowrap">
        <span data-testid="main-figures">{figure(dbOf(level.truePeak))} dBTP {figure(level.lufs)} LUFS-S</span
        >
        <button
          class="hover:bg-chosen text-second -mx-px -my-1 rounded-sm px-px"
          title="Clear peaks and overload lights everywhere (C)"
          aria-label="Clear peaks"
          onclick={() => player.meters.clearPeaks()}>clear</button
        >
      </p>
    </div>
  {/if}
  <SideSwitch />
  <div class="relative flex shrink-0 items-center gap-1">
    <Walked />
    {#each walks as walk (walk.name)}
      <button
        class="hover:bg-chosen rounded-sm p-1.5"
        aria-label={walk.name}
        title={walk.label === undefined ? walk.keys : `${walk.name}: ${walk.label} (${walk.keys})`}
        disabled={walk.label === undefined}
        onclick={walk.go}
      >
        <svg
          width="18"
          height="18"
          viewBox="0 0 18 18"
          fill="none"
          stroke="currentColor"
          stroke-width="1.8"
          aria-hidden="true"
        >
          <path d={walk.arrow} />
        </svg>
      </button>
    {/each}
    <DropdownMenu.Root>
      <DropdownMenu.Trigger class="hover:bg-chosen rounded-sm p-1.5" aria-label="Menu">
        <svg width="18" height="18" viewBox="0 0 18 18" fill="currentColor" aria-hidden="true">
          <circle cx="9" cy="3.5" r="1.6" /><circle cx="9" cy="9" r="1.6" /><circle
            cx="9"
            cy="14.5"
            r="1.6"
          />
        </svg>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content class="border-line bg-raised z-20 min-w-52 rounded-md border p-1" align="end">
          <DropdownMenu.Item class={item} onSelect={() => location.assign(api.folderUrl(session.id))}>
            Export as a session folder
          </DropdownMenu.Item>
          <DropdownMenu.Item class={item} onSelect={() => (templating = true)}>
            Save as a template …
          </DropdownMenu.Item>
          <DropdownMenu.Item class={item} onSelect={onshortcuts}>Shortcuts and about</DropdownMenu.Item>
          <DropdownMenu.Item class={item} onSelect={() => place.go('/')}>All sessions</DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  </div>
</header>
<SaveTemplate bind:open={templating} />
