<!-- A tick in the page's ink. What it is about is its name, or stands in the label around it. -->
<script lang="ts">
  interface Props {
    checked: boolean;
    name?: string;
    onchange?: (to: boolean) => void;
  }
  let { checked = $bindable(), name, onchange }: Props = $props();
</script>

<input
  type="checkbox"
  class="h-[13px] w-[13px] shrink-0"
  style:accent-color="var(--ink)"
  aria-label={name}
  bind:checked={() => checked, (to) => (onchange ? onchange(to) : (checked = to))}
  onclick={(event) => event.stopPropagation()}
/>
