<!-- What came together on buses, returns and main, against what unlike sources would come to. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import type { LevelsReading } from '$lib/state/gauge.svelte';
  import SumRepair from './SumRepair.svelte';
  import { level } from './targets';

  let { reading }: { reading: LevelsReading } = $props();
  const { session } = desktop();
  const target = $derived(session.header.targets.sum_dbtp);
  const sums = $derived(
    reading.found.sums.flatMap((sum) => {
      const strip = session.doc.strips.find((s) => s.id === sum.strip);
      const apart =
        sum.expected_dbfs !== null && sum.measured_dbfs !== null
          ? sum.measured_dbfs - sum.expected_dbfs
          : null;
      return strip ? [{ ...sum, main: strip.kind === 'main', name: session.nameOf(strip.id), apart }] : [];
    }),
  );
</script>

<table class="w-full max-w-4xl" aria-label="Sums">
  <thead class="text-second bg-raised sticky top-0 text-left text-[12px]">
    <tr>
      <th class="font-normal">Sum</th>
      <th class="w-24 text-right font-normal">Sources</th>
      <th class="w-32 text-right font-normal">Expected RMS</th>
      <th class="w-32 text-right font-normal">Measured RMS</th>
      <th class="w-28 text-right font-normal">Apart</th>
      <th class="w-32 text-right font-normal">True peak</th>
      <th class="w-32 text-right font-normal">Headroom</th>
    </tr>
  </thead>
  <tbody>
    {#each sums as sum (sum.strip)}
      <tr class={sum.main ? 'font-semibold' : ''}>
        <td class="truncate">{sum.name}</td>
        <td class="figures text-right">{sum.feeders}</td>
        <td class="figures text-right">{level(sum.expected_dbfs)}</td>
        <td class="figures text-right">{level(sum.measured_dbfs)}</td>
        <td class="figures text-right"
          >{sum.feeders > 1 && sum.measured_dbfs === null
            ? 'cancels'
            : `${sum.apart !== null && sum.apart >= 0.05 ? '+' : ''}${level(sum.apart)}`}</td
        >
        <td class="figures text-right">{level(sum.true_peak_dbtp)}</td>
        <td class="figures text-right"
          >{level(sum.true_peak_dbtp === null ? null : (sum.main ? target : 0) - sum.true_peak_dbtp)}</td
        >
      </tr>
    {/each}
  </tbody>
</table>
<div class="mt-2"><SumRepair {reading} /></div>
<p class="text-second mt-2 max-w-3xl">
  Expected is what sources come to that have nothing in common: 3 dB more for each doubling of equal ones.
  Well above it, sources reinforce each other; well under it, they cancel. Headroom is to {target.toFixed(1)} dBTP
  on main, to full scale elsewhere.
</p>
