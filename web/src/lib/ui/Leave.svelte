<!-- Puts the frame that it stands in away. -->
<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Snippet } from 'svelte';
  import Button from './Button.svelte';

  let { class: extra = '', children }: { class?: string; children: Snippet } = $props();
</script>

<Dialog.Close>
  {#snippet child({ props })}<Button {...props} class={extra}>{@render children()}</Button>{/snippet}
</Dialog.Close>
