<!-- A choice in a cell of a table: a light word that opens a list. Arrows and typing move in the list; Enter or a press
     chooses. The list is made when it is opened; many cells stand on one screen. -->
<script lang="ts" generics="T extends string | number">
  import { DropdownMenu } from 'bits-ui';
  import { tick } from 'svelte';

  interface Props {
    label: string;
    value: T;
    options: { value: T; text: string }[];
    onpick: (value: T) => void;
    title?: string;
    class?: string;
  }
  let { label, value, options, onpick, title, class: extra = '' }: Props = $props();
  let open = $state(false);
  let cell = $state<HTMLElement | null>(null);
  const text = $derived(options.find((o) => o.value === value)?.text ?? '');
  const look = $derived(
    `hover:bg-chosen hover:border-line truncate rounded-sm border border-transparent px-1 py-[2px] text-left ${extra}`,
  );
  /** The cell is where the keys go on. */
  function closed(now: boolean) {
    open = now;
    if (!now) void tick().then(() => cell?.focus());
  }
  function key(event: KeyboardEvent) {
    if (event.key !== 'ArrowDown' || !event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    open = true;
  }
</script>

{#if open}
  <DropdownMenu.Root bind:open={() => open, closed}>
    <DropdownMenu.Trigger aria-label="{label} {text}" class={look}>{text}</DropdownMenu.Trigger>
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        class="border-line bg-raised z-20 max-h-[60vh] min-w-36 overflow-y-auto rounded-md border p-1"
        align="start"
        aria-label={label}
      >
        <DropdownMenu.RadioGroup value={String(value)}>
          {#each options as option (option.value)}
            <DropdownMenu.RadioItem
              value={String(option.value)}
              class="data-highlighted:bg-chosen cursor-default rounded-sm px-2 py-1 outline-none data-[state=checked]:font-semibold"
              textValue={option.text}
              onSelect={() => option.value !== value && onpick(option.value)}
              >{option.text}</DropdownMenu.RadioItem
            >
          {/each}
        </DropdownMenu.RadioGroup>
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
{:else}
  <button
    bind:this={cell}
    class={look}
    aria-label="{label} {text}"
    aria-haspopup="menu"
    aria-expanded="false"
    {title}
    onkeydown={key}
    onclick={() => (open = true)}>{text}</button
  >
{/if}
