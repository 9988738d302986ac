<!-- Sides with their loudness, and beside them pictures, differences, snapshots, references. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import { desktop } from '$stages/desktop';
  import TabBar from '$lib/ui/TabBar.svelte';
  import DifferencesTab from './DifferencesTab.svelte';
  import ReferencesTab from './ReferencesTab.svelte';
  import SidePictures from './SidePictures.svelte';
  import SidesPanel from './SidesPanel.svelte';
  import SnapshotsTab from './SnapshotsTab.svelte';

  const { session, sides, versions } = desktop();
  type Tab = 'snapshots' | 'differences' | 'pictures' | 'references';
  let tab = $state<Tab>(untrack(() => (sides.others.length > 0 ? 'pictures' : 'snapshots')));
  $effect(() => untrack(() => void versions.refresh()));
  const tabs = $derived([
    { id: 'snapshots', name: 'Snapshots', count: versions.list?.length ?? 0 },
    { id: 'differences', name: 'Differences', count: versions.differences?.list.length ?? 0 },
    { id: 'pictures', name: 'Loudness and octaves' },
    { id: 'references', name: 'References', count: session.doc.references.length },
  ] as const);
</script>

<div class="grid h-full min-h-0 grid-cols-[minmax(0,9fr)_minmax(0,11fr)] gap-7">
  <SidesPanel />
  <TabBar {tabs} value={tab} onpick={(to) => (tab = to)}>
    {#if tab === 'snapshots'}<SnapshotsTab />
    {:else if tab === 'differences'}<DifferencesTab />
    {:else if tab === 'references'}<ReferencesTab />
    {:else}<SidePictures />{/if}
  </TabBar>
</div>
