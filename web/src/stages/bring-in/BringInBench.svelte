<!-- The bench of Bring in: what comes in, then the chosen lane's sound and hits, the song, takes, cuts, tuning. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import Progress from '$lib/ui/Progress.svelte';
  import TabBar from '$lib/ui/TabBar.svelte';
  import CutTab from './CutTab.svelte';
  import FilesTab from './FilesTab.svelte';
  import PatternTab from './PatternTab.svelte';
  import Sections from './Sections.svelte';
  import SoundTab from './SoundTab.svelte';
  import TakesTab from './TakesTab.svelte';
  import { TABS } from './tabs';
  import TuneTab from './TuneTab.svelte';

  const { board, bringIn } = desktop();
  const tab = $derived(board.tabOf('bring-in'));
</script>

<TabBar tabs={TABS} value={tab} onpick={(to) => board.show('bring-in', to)}>
  {#snippet aside()}
    {#if bringIn.running}
      <Progress
        doing="Bringing in"
        part={bringIn.total > 0 ? bringIn.done / bringIn.total : 0}
        far="{bringIn.done} of {bringIn.total}{bringIn.waiting ? ', waiting for the network' : ''}"
        oncancel={bringIn.cancel}
      />
    {/if}
  {/snippet}
  {#if tab === 'files'}<FilesTab />
  {:else if tab === 'sound'}<SoundTab />
  {:else if tab === 'pattern'}<PatternTab />
  {:else if tab === 'song'}<Sections />
  {:else if tab === 'takes'}<TakesTab />
  {:else if tab === 'cut'}<CutTab />
  {:else}<TuneTab />{/if}
</TabBar>
