<!-- Decades of frequency across a picture. -->
<script lang="ts">
  import { placeOfHz } from './pictures';

  let { width, height }: { width: number; height: number } = $props();
</script>

{#each [100, 1000, 10000] as hz (hz)}
  <path d="M{placeOfHz(hz) * width} 0V{height}" stroke="var(--faint)" />
  <text x={placeOfHz(hz) * width + 3} y={height - 4} font-size="10" fill="var(--second)"
    >{hz < 1000 ? hz : `${hz / 1000}k`}</text
  >
{/each}
