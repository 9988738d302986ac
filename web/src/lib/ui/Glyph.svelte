<!-- The mark of a family, so that colour is never alone. -->
<script lang="ts">
  import type { Kind } from '$lib/state/rows';
  let { kind }: { kind: Kind } = $props();
</script>

<svg
  width="14"
  height="14"
  viewBox="0 0 14 14"
  aria-hidden="true"
  style:color="var(--{kind === 'main' ? 'ink' : kind})"
>
  {#if kind === 'low'}
    <circle cx="7" cy="7" r="5.5" fill="currentColor" />
  {:else if kind === 'snare'}
    <path d="M1 2.5h12v3.6H1zM1 7.9h12v3.6H1z" fill="currentColor" />
  {:else if kind === 'hats'}
    <path d="M7 1.5 13 12H1z" fill="currentColor" />
  {:else if kind === 'percussion'}
    <path d="M7 .8 13.2 7 7 13.2.8 7z" fill="currentColor" />
  {:else if kind === 'bass'}
    <path d="M1 7c2-8 4-8 6 0s4 8 6 0" fill="none" stroke="currentColor" stroke-width="2.2" />
  {:else if kind === 'music'}
    <path d="M1.5 6h2.6v7H1.5zM5.7 1h2.6v12H5.7zM9.9 4h2.6v9H9.9z" fill="currentColor" />
  {:else if kind === 'return'}
    <path
      d="M1.5 4.2H9a3.1 3.1 0 0 1 0 6.2H4.6M7 7.6l-2.8 2.8L7 13.2"
      fill="none"
      stroke="currentColor"
      stroke-width="2"
    />
  {:else if kind === 'bus'}
    <path d="M1 3.2h5L9.5 7H13M1 10.8h5L9.5 7" fill="none" stroke="currentColor" stroke-width="2" />
  {:else}
    <path d="M1.5 1.5h11v11h-11z" fill="currentColor" />
  {/if}
</svg>
