<script lang="ts">
  import { STATION_COLUMNS, VALUE_COLUMN } from './columns';
</script>

<span class={STATION_COLUMNS.source}>Source</span><span class={STATION_COLUMNS.trimmed}>After trim</span>
<span class="{STATION_COLUMNS.chain} truncate">After each processor</span>
<span class={STATION_COLUMNS.out}>After fader</span>
{#each ['Trim', 'Polarity', 'Pan', 'Width', 'Fader'] as name (name)}
  <span class="{VALUE_COLUMN} text-right">{name}</span>
{/each}
