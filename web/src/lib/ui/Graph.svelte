<!-- A picture in a frame with a line of words under it. It takes the room that it is given and says how large that is. -->
<script lang="ts">
  import type { Snippet } from 'svelte';

  interface Props {
    /** The size in pixels, as it is; what is given is only where it begins. */
    width: number;
    height: number;
    /** As wide as it is high. */
    square?: boolean;
    /** What it shows, for screen readers. */
    label: string;
    /** Whether things in it can be reached one by one. */
    role?: 'img' | 'group';
    children: Snippet;
    caption: Snippet;
    /** Further attributes of the picture. */
    [name: `data-${string}`]: string;
  }
  let {
    width = $bindable(),
    height = $bindable(),
    square = false,
    label,
    role = 'img',
    children,
    caption,
    ...rest
  }: Props = $props();
  /** The widest that a square one becomes, in pixels. */
  const MOST = 280;
  /** The box as it is measured; nothing until then. */
  let [wide, high] = $state([0, 0]);
  $effect(() => {
    if (wide > 0 && high > 0) [width, height] = [wide, high];
  });
</script>

<figure
  class="flex min-h-[132px] min-w-0 flex-col {square ? 'shrink-0' : 'flex-1'}"
  style:width={square ? `${Math.max(110, Math.min(high + 2, MOST))}px` : undefined}
>
  <div
    class="border-line bg-panel min-h-0 flex-1 overflow-hidden rounded-sm border"
    bind:clientWidth={wide}
    bind:clientHeight={high}
  >
    <svg {width} {height} viewBox="0 0 {width} {height}" class="block" {role} aria-label={label} {...rest}>
      {@render children()}
    </svg>
  </div>
  <figcaption class="text-second truncate text-[10px]">{@render caption()}</figcaption>
</figure>
