<!-- The bench of Levels: stations of the chosen row while playing, and what a measuring run over the loop says. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import GaugeBar from '$stages/ui/GaugeBar.svelte';
  import TabBar from '$lib/ui/TabBar.svelte';
  import FiguresTab from './FiguresTab.svelte';
  import StationsTab from './StationsTab.svelte';
  import SuggestionsTab from './SuggestionsTab.svelte';
  import SumsTab from './SumsTab.svelte';
  import { TABS } from './tabs';
  import TrimsTab from './TrimsTab.svelte';

  const { session, board, gauge } = desktop();
  const reading = $derived(gauge.reading);
  const refused = $derived(new Set(session.doc.dismissed));
  const open = $derived((reading?.found.suggestions ?? []).filter((s) => !refused.has(s.key)).length);
  const tabs = $derived(TABS.map((t) => ({ ...t, count: t.id === 'suggestions' ? open : undefined })));

  const tab = $derived(board.tabOf('levels'));

  async function measure() {
    if ((await gauge.measure()) && tab === 'stations') board.show('levels', 'trims');
  }
</script>

<TabBar {tabs} value={tab} onpick={(to) => board.show('levels', to)}>
  {#snippet aside()}
    <GaugeBar />
    {#if gauge.part === undefined}
      {#if reading && !gauge.fresh}
        <span class="text-second">measured before the last change</span>
      {/if}
      <Button kind={gauge.fresh ? 'second' : 'first'} disabled={gauge.fresh} onclick={measure}
        >{gauge.fresh ? 'Measured' : reading ? 'Measure again' : 'Measure the loop'}</Button
      >
    {/if}
  {/snippet}
  {#if tab === 'stations'}<StationsTab />
  {:else if !reading}
    <p class="text-second py-6 text-center">
      Nothing measured yet. A run plays the loop once beside what you hear, faster than it sounds, and reads
      every station.
    </p>
  {:else if tab === 'trims'}<TrimsTab {reading} />
  {:else if tab === 'sums'}<SumsTab {reading} />
  {:else if tab === 'figures'}<FiguresTab {reading} />
  {:else}<SuggestionsTab {reading} />{/if}
</TabBar>
