<!-- The bench of Bring in: what comes in, then the chosen lane's sound and hits, the song, takes, cuts, tuning. -->
<script lang="ts">
  import { TABS, type Tab } from '$lib/state/board.svelte';
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import { Tabs } from 'bits-ui';
  import CutTab from './CutTab.svelte';
  import FilesTab from './FilesTab.svelte';
  import PatternTab from './PatternTab.svelte';
  import Sections from './Sections.svelte';
  import SoundTab from './SoundTab.svelte';
  import TakesTab from './TakesTab.svelte';
  import TuneTab from './TuneTab.svelte';

  const { board, bringIn } = desktop();
</script>

<Tabs.Root
  value={board.tab}
  onValueChange={(tab) => (board.tab = tab as Tab)}
  class="flex h-full min-h-0 flex-col"
>
  <div class="border-line -mt-1 mb-2 flex shrink-0 items-end border-b">
    <Tabs.List class="flex gap-5" aria-label="Parts of the bench">
      {#each TABS as tab (tab.id)}
        <Tabs.Trigger
          value={tab.id}
          class="text-second data-[state=active]:border-ink data-[state=active]:text-ink -mb-px border-b-2 border-transparent py-1 data-[state=active]:font-semibold"
          >{tab.name}</Tabs.Trigger
        >
      {/each}
    </Tabs.List>
    {#if bringIn.running}
      <div class="ml-auto flex items-center gap-3 pb-1" role="status">
        <div class="bg-faint h-2 w-32">
          <div class="bg-ink h-2" style:width="{(bringIn.done / bringIn.total) * 100}%"></div>
        </div>
        <span class="text-second">{bringIn.done} of {bringIn.total}</span>
        <Button kind="text" onclick={bringIn.cancel}>Cancel</Button>
      </div>
    {/if}
  </div>
  <Tabs.Content value={board.tab} class="min-h-0 flex-1">
    {#if board.tab === 'files'}<FilesTab />
    {:else if board.tab === 'sound'}<SoundTab />
    {:else if board.tab === 'pattern'}<PatternTab />
    {:else if board.tab === 'song'}<Sections />
    {:else if board.tab === 'takes'}<TakesTab />
    {:else if board.tab === 'cut'}<CutTab />
    {:else}<TuneTab />{/if}
  </Tabs.Content>
</Tabs.Root>
