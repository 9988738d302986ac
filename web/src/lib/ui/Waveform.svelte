<!-- The outline of a sound, mirrored about its middle. -->
<script lang="ts">
  interface Props {
    /** Peaks of equal slices, 0 to 1. */
    peaks: Float32Array | undefined;
    color: string;
    width: number;
    height: number;
  }
  let { peaks, color, width, height }: Props = $props();

  const outline = $derived.by(() => {
    if (!peaks) return '';
    const middle = height / 2;
    const x = (at: number) => ((at / (peaks.length - 1)) * width).toFixed(1);
    const upper = Array.from(peaks, (p, at) => `${x(at)},${(middle - p * middle).toFixed(1)}`);
    const lower = Array.from(peaks, (p, at) => `${x(at)},${(middle + p * middle).toFixed(1)}`).reverse();
    return [...upper, ...lower].join(' ');
  });
</script>

<svg {width} {height} aria-hidden="true" class="block">
  <line x1="0" x2={width} y1={height / 2} y2={height / 2} stroke={color} stroke-width="1" opacity="0.5" />
  <polygon points={outline} fill={color} />
</svg>
