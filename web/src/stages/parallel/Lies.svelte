<!-- How a strip lies against another sound, and what mends it: to be heard first, in mono too. -->
<script lang="ts">
  import type { PathReading } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { alignmentSaid } from './path-words';

  interface Props {
    readings: PathReading[];
    /** What is mended, for people. */
    of: string;
    /** With words about the first of them. */
    said?: boolean;
  }
  let { readings, of, said = false }: Props = $props();
  const { paths } = desktop();
  const first = $derived(readings[0]?.alignment);
  const text = $derived(first && alignmentSaid(first));
  const off = $derived(readings.filter((r) => r.alignment.verdict === 'off'));
  const heard = $derived(paths.heard?.kind === 'mended' ? paths.heard : undefined);
  const tones = { good: 'text-good', look: 'text-look', second: 'text-second' };
  const button = 'border-ink rounded-md border px-2 py-[2px] whitespace-nowrap disabled:opacity-50';
</script>

<span class="flex flex-wrap items-center gap-x-3 gap-y-1">
  {#if said && text && first}
    <span class={tones[text.tone]} data-testid="lies">{text.text}</span>
    {#if first.verdict === 'off' || first.verdict === 'in_time'}
      <span class="text-second figures"
        >correlation {first.correlation.toFixed(2)}, {(first.delay_frames || 0).toFixed(1)} samples{first.verdict ===
        'off'
          ? `, together ${first.gain_db.toFixed(1)} dB more`
          : ''}</span
      >
    {/if}
  {/if}
  {#if off.length > 0}
    <button
      class="{button} {heard?.mended ? 'bg-ink text-panel' : 'hover:bg-chosen'}"
      aria-pressed={heard?.mended ?? false}
      disabled={!paths.fresh && !heard}
      title="In this tab alone, until it is mended or ended"
      onclick={() => paths.hearMended(off, !(heard?.mended ?? false), heard?.mono ?? false)}
      >Hear it mended</button
    >
    <button
      class="{button} hover:bg-chosen"
      disabled={!paths.fresh && !heard}
      title="Polarity, and an offset in whole samples; undo takes it back"
      onclick={() => void paths.mend(off)}>Mend {of}</button
    >
  {/if}
  {#if off.length > 0 || heard}
    <button
      class="{button} {heard?.mono ? 'bg-ink text-panel' : 'hover:bg-chosen'}"
      aria-pressed={heard?.mono ?? false}
      title="Main in mono, in this tab alone"
      onclick={() => paths.hearMended(off, heard?.mended ?? false, !(heard?.mono ?? false))}>In mono</button
    >
  {/if}
</span>
