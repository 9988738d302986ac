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
    // About a point a pixel.
    const thin = Math.max(1, Math.round(peaks.length / width));
    const points = Array.from({ length: Math.floor(peaks.length / thin) }, (_, n) =>
      Math.max(...peaks.subarray(n * thin, (n + 1) * thin)),
    );
    const x = (at: number) => ((at / (points.length - 1)) * width).toFixed(1);
    const upper = Array.from(points, (p, at) => `${x(at)},${(middle - p * middle).toFixed(1)}`);
    const lower = Array.from(points, (p, at) => `${x(at)},${(middle + p * middle).toFixed(1)}`).reverse();
    return [...upper, ...lower].join(' ');
  });
</script>

<svg {width} {height} aria-hidden="true" class="block">
  <line x1="0" x2={width} y1={height / 2} y2={height / 2} stroke={color} stroke-width="1" opacity="0.5" />
  <polygon points={outline} fill={color} />
</svg>
