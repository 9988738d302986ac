<!-- A button that opens a list of actions: typing and arrows move in it, Enter or a press acts. -->
<script lang="ts" generics="T extends string | number">
  import { DropdownMenu } from 'bits-ui';

  interface Props {
    /** What stands on the button. */
    text: string;
    /** The whole of it, for screen readers. */
    label: string;
    items: { value: T; text: string }[];
    onpick: (value: T) => void;
    disabled?: boolean;
  }
  let { text, label, items, onpick, disabled = false }: Props = $props();
</script>

<DropdownMenu.Root>
  <DropdownMenu.Trigger
    {disabled}
    aria-label={label}
    class="hover:bg-chosen border-line bg-panel rounded-sm border px-2 py-[2px] disabled:opacity-50"
    >{text} …</DropdownMenu.Trigger
  >
  <DropdownMenu.Portal>
    <DropdownMenu.Content
      class="border-line bg-raised z-20 max-h-[60vh] min-w-44 overflow-y-auto rounded-md border p-1"
      align="start"
      aria-label={label}
    >
      {#each items as item (item.value)}
        <DropdownMenu.Item
          class="data-highlighted:bg-chosen cursor-default rounded-sm px-2 py-1 outline-none"
          textValue={item.text}
          onSelect={() => onpick(item.value)}>{item.text}</DropdownMenu.Item
        >
      {:else}
        <p class="text-second px-2 py-1">nothing to choose</p>
      {/each}
    </DropdownMenu.Content>
  </DropdownMenu.Portal>
</DropdownMenu.Root>
