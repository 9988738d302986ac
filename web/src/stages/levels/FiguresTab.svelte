<!-- Every figure of the run, to be sorted and copied. -->
<script lang="ts">
  import type { Station } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import type { LevelsReading } from '$lib/state/gauge.svelte';
  import Button from '$lib/ui/Button.svelte';
  import { counted } from '$lib/ui/counted';
  import { level } from './targets';

  let { reading }: { reading: LevelsReading } = $props();
  const { session, board } = desktop();
  const columns = [
    { id: 'name', text: 'Strip' },
    { id: 'station', text: 'Station' },
    { id: 'sample_peak_dbfs', text: 'Peak dBFS' },
    { id: 'true_peak_dbtp', text: 'True peak dBTP' },
    { id: 'rms_dbfs', text: 'RMS dBFS' },
    { id: 'lufs', text: 'LUFS' },
  ] as const;
  type Column = (typeof columns)[number]['id'];
  let by = $state<Column>();
  let down = $state(true);
  const ends = { source: 'source', trimmed: 'after trim', out: 'after fader' };
  function nameOf(station: Station): string {
    if (typeof station === 'string') return ends[station];
    const id = 'key' in station ? station.key : station.processor;
    for (const strip of session.doc.strips) {
      const at = strip.chain.findIndex((p) => p.id === id);
      const processor = strip.chain[at];
      if (processor) return `${at + 1}. ${session.desk.nameOf(processor)}`;
    }
    return 'a processor that is gone';
  }
  const rows = $derived.by(() => {
    const order = board.rows.map((r) => r.strip.id);
    const all = [...new Set(order)].flatMap((id) => {
      const strip = reading.found.measured.strips.find((s) => s.strip === id);
      return (strip?.stations ?? []).map((s, at) => ({
        ...s,
        key: `${id} ${at}`,
        name: session.nameOf(id),
        station: nameOf(s.station),
      }));
    });
    if (!by) return all;
    const column = by;
    const of = (row: (typeof all)[number]) => row[column] ?? -Infinity;
    const sorted = all.toSorted((a, b) => {
      const [x, y] = [of(a), of(b)];
      return typeof x === 'string' ? x.localeCompare(String(y)) : x - Number(y);
    });
    // Names from A, levels from the highest.
    return down === (column === 'name' || column === 'station') ? sorted : sorted.toReversed();
  });
  const sort = (column: Column) => ([down, by] = [by === column ? !down : true, column]);
  let copied = $state('');
  async function copy() {
    const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`;
    const lines = rows.map((r) =>
      [quoted(r.name), quoted(r.station), r.sample_peak_dbfs, r.true_peak_dbtp, r.rms_dbfs, r.lufs]
        .map((x) => (typeof x === 'number' ? x.toFixed(2) : (x ?? '')))
        .join(','),
    );
    const head = columns.map((c) => quoted(c.text)).join(',');
    try {
      await navigator.clipboard.writeText([head, ...lines].join('\n') + '\n');
      copied = `${counted(lines.length, 'line')} copied`;
    } catch {
      copied = 'The browser did not allow copying.';
    }
  }
</script>

<div class="mb-1 flex items-center gap-3">
  <Button onclick={copy}>Copy as CSV</Button>
  <span class="text-second" role="status">{copied}</span>
</div>
<table class="w-full max-w-5xl" aria-label="Figures">
  <thead class="bg-raised text-second sticky top-0 text-[12px]">
    <tr>
      {#each columns as column, at (column.id)}
        <th
          class="font-normal {at < 2 ? 'text-left' : 'w-36 text-right'}"
          aria-sort={by === column.id ? (down ? 'descending' : 'ascending') : 'none'}
          ><button class="hover:text-ink" onclick={() => sort(column.id)}
            >{column.text}{by === column.id ? (down ? ' ↓' : ' ↑') : ''}</button
          ></th
        >
      {/each}
    </tr>
  </thead>
  <tbody>
    {#each rows as row (row.key)}
      <tr>
        <td class="truncate">{row.name}</td>
        <td class="text-second truncate">{row.station}</td>
        <td class="figures text-right {(row.sample_peak_dbfs ?? -1) > 0 ? 'text-wrong font-semibold' : ''}"
          >{level(row.sample_peak_dbfs)}</td
        >
        <td class="figures text-right">{level(row.true_peak_dbtp)}</td>
        <td class="figures text-right">{level(row.rms_dbfs)}</td>
        <td class="figures text-right">{level(row.lufs)}</td>
      </tr>
    {/each}
  </tbody>
</table>
