<!-- Trims that meet the targets, before and after, to be taken over all or some. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import type { Edit, TrimLine } from '$lib/api/types';
  import type { Levels } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import type { LevelsReading } from '$lib/state/gauge.svelte';
  import { ended } from '$lib/state/ended';
  import Button from '$lib/ui/Button.svelte';
  import { counted } from '$lib/ui/counted';
  import SumRepair from './SumRepair.svelte';
  import { TARGETS, level } from './targets';

  let { reading }: { reading: LevelsReading } = $props();
  const { session, gauge, versions } = desktop();
  const lines = $derived(reading.found.proposal.lines);
  const averages = $derived(lines.some(({ target: { by } }) => by === 'rms' || by === 'loudness'));
  const changing = $derived(lines.filter((l) => l.changes));
  const overloads = ({ peak_after_dbfs: peak }: TrimLine) => peak !== null && peak > 0;
  /** Lanes that a person ticked or left out; of others, those that would overload are left out. */
  let chosen = $state<Record<number, boolean>>({});
  const ticked = (line: TrimLine) => chosen[line.strip] ?? !overloads(line);
  const taken = $derived(changing.filter(ticked));
  const edit = (line: TrimLine): Edit => ({
    kind: 'set_strips',
    strips: [line.strip],
    change: { what: 'trim_db', to: line.trim_after_db },
  });
  const peakOf = (found: Levels) => found.measured.strips.at(-1)?.stations.at(-1)?.true_peak_dbtp ?? null;
  const target = $derived(session.header.targets.sum_dbtp);
  /** What the sum comes to with the trims that are ticked, measured. */
  let after = $state.raw<{ of: string; peak: number | null }>();
  const key = $derived(`${taken.map((l) => `${l.strip} ${l.trim_after_db}`).join()}`);
  /** Whether the sum is being measured: nobody waits for it once this is out of sight. */
  let asking = false;
  $effect(() => ended(() => asking && gauge.cancel()));
  async function tryOut() {
    const of = key;
    asking = true;
    const found = await gauge.ask(
      'Measuring the sum with these trims',
      { about: 'levels', without: false },
      { edits: taken.map(edit) },
    );
    asking = false;
    if (found) after = { of, peak: peakOf(found) };
    else given = of;
  }
  // The sum stands beside the button before that is pressed: measured a moment after the last tick.
  const CALM_MS = 400;
  /** Trims whose sum was called off: it is asked for again by hand. */
  let given = $state<string>();
  $effect(() => {
    if (taken.length === 0 || after?.of === key || given === key) return;
    if (!gauge.fresh || gauge.part !== undefined) return;
    const timer = setTimeout(() => void untrack(tryOut), CALM_MS);
    return () => clearTimeout(timer);
  });
  async function accept() {
    const edits = taken.map(edit);
    await versions.before('Before trims were taken over');
    session.apply({ kind: 'batch', edits });
    chosen = {};
    // What was advised before is made anew.
    void gauge.measure();
  }
  const room = (peak: number | null) => (peak === null ? null : target - peak);
</script>

<div class="grid grid-cols-[minmax(0,1fr)_300px] gap-8">
  <table class="w-full" aria-label="Proposed trims">
    <thead class="text-second bg-raised sticky top-0 text-left text-[12px]">
      <tr>
        <th class="w-8 font-normal"><span class="sr-only">Take over</span></th>
        <th class="font-normal">Lane</th>
        <th class="w-32 font-normal">Target</th>
        <th class="w-20 text-right font-normal">Level now</th>
        <th class="w-20 text-right font-normal">then</th>
        <th class="w-20 text-right font-normal">Trim now</th>
        <th class="w-20 text-right font-normal">then</th>
        <th class="w-24 text-right font-normal">Peak then</th>
      </tr>
    </thead>
    <tbody>
      {#each lines as line (line.strip)}
        <tr class={line.changes ? '' : 'text-second'}>
          <td>
            {#if line.changes}
              <CheckMark
                name="Take over the trim of {line.name}"
                checked={ticked(line)}
                onchange={(to) => (chosen[line.strip] = to)}
              />
            {/if}
          </td>
          <td class="truncate">{line.name}</td>
          <td class="text-second"
            ><span class="figures">{line.target.db.toFixed(1)}</span> {TARGETS[line.target.by].unit}</td
          >
          <td class="figures text-right">{level(line.level_before_db)}</td>
          <td class="figures text-right">{line.changes ? level(line.level_after_db) : 'there'}</td>
          <td class="figures text-right">{level(line.trim_before_db)}</td>
          <td class="figures text-right font-semibold">{line.changes ? level(line.trim_after_db) : ''}</td>
          <td
            class="figures text-right {overloads(line) ? 'text-wrong font-semibold' : ''}"
            title={overloads(line)
              ? 'Over full scale behind its trim: what comes next is overloaded'
              : undefined}>{level(line.peak_after_dbfs)}{overloads(line) ? ' over' : ''}</td
          >
        </tr>
      {:else}
        <tr><td colspan="8" class="text-second py-4 text-center">No lane sounds in this loop.</td></tr>
      {/each}
    </tbody>
  </table>
  <div class="grid content-start gap-2">
    <Button kind="first" disabled={taken.length === 0 || !gauge.fresh} onclick={accept}
      >Take over {counted(taken.length, 'trim')}</Button
    >
    {#if changing.length === 0 && lines.length > 0}
      <p class="text-second">Every lane that sounds is on its target.</p>
    {/if}
    <dl class="grid grid-cols-[1fr_auto] gap-x-3 gap-y-1">
      <dt class="text-second">Main now</dt>
      <dd class="figures text-right">{level(peakOf(reading.found))} dBTP</dd>
      <dt class="text-second">Headroom to {target.toFixed(1)} dBTP</dt>
      <dd class="figures text-right" data-testid="headroom">{level(room(peakOf(reading.found)))} dB</dd>
      {#if taken.length > 0}
        {@const then = after?.of === key ? after : undefined}
        {@const over = (then?.peak ?? -1) > 0}
        <dt class="text-second">Main with these trims</dt>
        <dd class="figures text-right {over ? 'text-wrong font-semibold' : ''}">
          {then ? level(then.peak) : '…'} dBTP{over ? ' over' : ''}
        </dd>
        <dt class="text-second">Headroom then</dt>
        <dd class="figures text-right">{then ? level(room(then.peak)) : '…'} dB</dd>
      {/if}
    </dl>
    {#if given === key && after?.of !== key && taken.length > 0}
      <Button disabled={gauge.part !== undefined} onclick={tryOut}>Measure the sum with them</Button>
    {/if}
    <SumRepair {reading} />
    {#if averages}
      <p class="text-second">
        RMS and loudness count only while a lane sounds: blocks of 0.4 s, without those under -70 and those 10
        dB under the rest (BS.1770-5).
      </p>
    {/if}
    {#if reading.found.proposal.silent.length > 0}
      <p class="text-second">Silent in this loop: {reading.found.proposal.silent.join(', ')}.</p>
    {/if}
  </div>
</div>
