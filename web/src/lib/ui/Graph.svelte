<!-- A picture in a frame with a line of words under it. -->
<script lang="ts">
  import type { Snippet } from 'svelte';

  interface Props {
    width: number;
    height: number;
    /** What it shows, for screen readers. */
    label: string;
    children: Snippet;
    caption: Snippet;
    /** Further attributes of the picture. */
    [name: `data-${string}`]: string;
  }
  let { width, height, label, children, caption, ...rest }: Props = $props();
</script>

<figure class="min-w-0">
  <svg
    {width}
    {height}
    viewBox="0 0 {width} {height}"
    class="border-line bg-panel max-w-full rounded-sm border"
    role="img"
    aria-label={label}
    {...rest}
  >
    {@render children()}
  </svg>
  <figcaption class="text-second text-[10px]">{@render caption()}</figcaption>
</figure>
