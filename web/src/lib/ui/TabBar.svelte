<!-- The parts of a bench, side by side. -->
<script lang="ts" generics="T extends string">
  import { Tabs } from 'bits-ui';
  import type { Snippet } from 'svelte';

  interface Props {
    tabs: readonly { id: T; name: string; count?: number }[];
    value: T;
    onpick: (tab: T) => void;
    /** What the tabs are, for screen readers. */
    label?: string;
    /** Stands at the right end of the bar. */
    aside?: Snippet;
    children: Snippet;
  }
  let { tabs, value, onpick, label = 'Parts of the bench', aside, children }: Props = $props();
</script>

<Tabs.Root {value} onValueChange={(tab) => onpick(tab as T)} class="flex h-full min-h-0 flex-col">
  <div class="border-line -mt-1 mb-2 flex shrink-0 items-end border-b">
    <Tabs.List class="flex gap-5" aria-label={label}>
      {#each tabs as tab (tab.id)}
        <Tabs.Trigger
          value={tab.id}
          class="text-second data-[state=active]:border-ink data-[state=active]:text-ink -mb-px border-b-2 border-transparent py-1 data-[state=active]:font-semibold"
          >{tab.name}{#if tab.count}<span class="figures text-second ml-1">{tab.count}</span
            >{/if}</Tabs.Trigger
        >
      {/each}
    </Tabs.List>
    <div class="ml-auto flex items-center gap-3 pb-1">{@render aside?.()}</div>
  </div>
  <Tabs.Content {value} class="min-h-0 flex-1 overflow-auto">{@render children()}</Tabs.Content>
</Tabs.Root>
