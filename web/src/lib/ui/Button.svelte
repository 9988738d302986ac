<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLButtonAttributes } from 'svelte/elements';

  interface Props extends HTMLButtonAttributes {
    kind?: 'first' | 'second' | 'text';
    children: Snippet;
  }
  let { kind = 'second', children, class: extra = '', ...rest }: Props = $props();
  const looks = {
    first: 'bg-ink text-panel border-ink font-semibold',
    second: 'border-ink bg-transparent',
    text: 'border-transparent underline underline-offset-2',
  };
</script>

<button
  type="button"
  class="rounded-md border px-3 py-[5px] whitespace-nowrap {kind === 'text' ? 'px-1' : ''} {looks[
    kind
  ]} {extra}"
  {...rest}
>
  {@render children()}
</button>
