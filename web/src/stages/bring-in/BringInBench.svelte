<!-- The bench of Bring in: what comes in, then the chosen lane's sound and hits, the song, takes, cuts, tuning. -->
<script lang="ts">
  import { TABS } from '$lib/state/board.svelte';
  import { desktop } from '$lib/state/context';
  import Progress from '$lib/ui/Progress.svelte';
  import TabBar from '$lib/ui/TabBar.svelte';
  import CutTab from './CutTab.svelte';
  import FilesTab from './FilesTab.svelte';
  import PatternTab from './PatternTab.svelte';
  import Sections from './Sections.svelte';
  import SoundTab from './SoundTab.svelte';
  import TakesTab from './TakesTab.svelte';
  import TuneTab from './TuneTab.svelte';

  const { board, bringIn } = desktop();
</script>

<TabBar tabs={TABS} value={board.tab} onpick={(tab) => (board.tab = tab)}>
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
  {#if board.tab === 'files'}<FilesTab />
  {:else if board.tab === 'sound'}<SoundTab />
  {:else if board.tab === 'pattern'}<PatternTab />
  {:else if board.tab === 'song'}<Sections />
  {:else if board.tab === 'takes'}<TakesTab />
  {:else if board.tab === 'cut'}<CutTab />
  {:else}<TuneTab />{/if}
</TabBar>
