<!-- A name that is edited in place: double click or F2, Enter keeps, Escape goes back. -->
<script lang="ts">
  import { LIMITS } from '$lib/api/types/limits';
  interface Props {
    label: string;
    value: string;
    max?: number;
    onname: (name: string) => void;
    class?: string;
  }
  let { label, value, max = LIMITS.name_chars, onname, class: extra = '' }: Props = $props();
  let editing = $state(false);
  let text = $state('');
  let button = $state<HTMLButtonElement>();

  function start() {
    text = value;
    editing = true;
  }
  function finish(keep: boolean) {
    if (!editing) return;
    editing = false;
    const name = text.trim();
    if (keep && name !== '' && name !== value) onname(name);
    queueMicrotask(() => button?.focus());
  }
  function focus(input: HTMLInputElement) {
    // The text must stand before it can be selected.
    input.value = text;
    input.focus();
    input.select();
  }
</script>

{#if editing}
  <input
    use:focus
    bind:value={text}
    maxlength={max}
    aria-label={label}
    class="bg-raised -mx-1 w-full rounded-sm px-1 {extra}"
    onblur={() => finish(true)}
    onclick={(event) => event.stopPropagation()}
    onkeydown={(event) => {
      event.stopPropagation();
      if (event.key === 'Enter') finish(true);
      if (event.key === 'Escape') finish(false);
    }}
  />
{:else}
  <button
    bind:this={button}
    class="block max-w-full truncate text-left {extra}"
    title="{value} (double click or F2 to rename)"
    ondblclick={start}
    onkeydown={(event) => {
      if (event.key === 'F2') start();
    }}>{value}</button
  >
{/if}
