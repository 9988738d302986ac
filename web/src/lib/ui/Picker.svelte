<!-- A choice among a few, with the system's own list. -->
<script lang="ts" generics="T extends string | number">
  interface Props {
    label: string;
    value: T;
    options: { value: T; text: string }[];
    onpick: (value: T) => void;
    class?: string;
    /** Whether the label stands before the choice. */
    named?: boolean;
  }
  let { label, value, options, onpick, class: extra = '', named = false }: Props = $props();
  /** A long list is filled in when somebody turns to it; many pickers stand on one screen. */
  let open = $state(false);
  const at = $derived(options.findIndex((o) => o.value === value));
  /** Keys that would change a closed list by themselves open it instead, so that nothing is chosen on the way. */
  const MOVES = ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight', 'Home', 'End', 'PageUp', 'PageDown'];
  function key(event: KeyboardEvent & { currentTarget: HTMLSelectElement }) {
    const types = event.key.length === 1 && event.key !== ' ' && !event.ctrlKey && !event.metaKey;
    if (event.altKey || (!types && !MOVES.includes(event.key))) return;
    event.preventDefault();
    event.stopPropagation();
    event.currentTarget.showPicker();
  }
  const shown = $derived(
    options
      .map((option, index) => ({ option, index }))
      .filter(({ index }) => open || options.length < 16 || index === at),
  );
</script>

<label class="flex min-w-0 items-center gap-2 {named ? 'w-full' : ''}">
  {#if named}<span class="text-second w-20 shrink-0">{label}</span>{/if}
  <select
    aria-label={label}
    class="hover:bg-chosen border-line bg-panel min-w-0 truncate rounded-sm border px-1 py-[2px] {named
      ? 'flex-1'
      : ''} {extra}"
    value={String(at)}
    onfocus={() => (open = true)}
    onpointerdown={() => (open = true)}
    onkeydown={key}
    onchange={(event) => {
      const select = event.currentTarget;
      const picked = options[Number(select.value)];
      if (picked) onpick(picked.value);
      // It shows what holds, which for a list of actions is still its title.
      queueMicrotask(() => (select.value = String(at)));
    }}
  >
    {#each shown as { option, index } (option.value)}
      <option value={String(index)}>{option.text}</option>
    {/each}
  </select>
</label>
