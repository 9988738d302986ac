<!-- A value with its name before it and its unit behind it. -->
<script lang="ts">
  import type { ComponentProps } from 'svelte';
  import ValueField from './ValueField.svelte';

  interface Props extends ComponentProps<typeof ValueField> {
    /** Short name on the screen; the label says it whole. */
    name: string;
    /** Shown behind the value instead of the unit. */
    behind?: string;
  }
  let { name, behind, ...rest }: Props = $props();
</script>

<div class="flex items-center">
  <span class="text-second min-w-0 flex-1 truncate">{name}</span>
  <ValueField {...rest} />
  <span class="text-second w-6 shrink-0 text-[11px]">{behind ?? rest.unit}</span>
</div>
