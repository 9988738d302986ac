<!-- How far something is, with a way to call it off. -->
<script lang="ts">
  import Button from './Button.svelte';

  interface Props {
    doing: string;
    /** In 0 to 1. */
    part: number;
    /** How far it is in words; else per cent. */
    far?: string;
    oncancel: () => void;
  }
  let { doing, part, far, oncancel }: Props = $props();
  const percent = $derived(Math.round(part * 100));
</script>

<div class="flex items-center gap-3" role="status">
  <span class="text-second">{doing}</span>
  <div
    class="bg-faint h-2 w-32"
    role="progressbar"
    aria-label={doing}
    aria-valuemin={0}
    aria-valuemax={100}
    aria-valuenow={percent}
  >
    <div class="bg-ink h-2" style:width="{part * 100}%"></div>
  </div>
  <span class="figures">{far ?? `${percent} %`}</span>
  <Button kind="text" onclick={oncancel}>Cancel</Button>
</div>
