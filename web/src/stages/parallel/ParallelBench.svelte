<!-- The bench of Parallel: of a return what raising it brings, of a bus or main what its stations do, of lanes how they lie
     against each other. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import { desktop } from '$stages/desktop';
  import { ended } from '$lib/state/ended';
  import BusBench from './BusBench.svelte';
  import LanesBench from './LanesBench.svelte';
  import ReturnBench from './ReturnBench.svelte';

  const { session, board, paths, gauge } = desktop();
  const strip = $derived(
    session.doc.strips.find((s) => s.id === board.current?.strip.id) ?? session.doc.strips[0],
  );
  const kind = $derived(board.current?.kind);
  const lanes = $derived(
    board.chosen.filter((r) => r.kind !== 'main' && r.strip.kind !== 'trigger').map((r) => r.strip.id),
  );
  const several = $derived(new Set(lanes).size > 1);
  $effect(() => {
    const id = strip?.id;
    const looked = !several && (kind === 'return' || kind === 'bus' || kind === 'main');
    const { reference } = paths;
    const rest = [...new Set(lanes)].filter((lane) => lane !== reference);
    const held = !several ? [] : rest.length < new Set(lanes).size ? [reference ?? 0, ...rest] : rest;
    untrack(() => {
      const changed = paths.path !== (looked ? id : undefined);
      if (changed || held.length > 0) paths.end();
      paths.path = looked ? id : undefined;
      if (`${held}` !== `${paths.lanes}`) paths.lanes = held;
    });
  });

  // Heard again a moment after the last change, as long as somebody looks.
  const CALM_MS = 250;
  $effect(() => {
    void [session.settledDoc, board.loopStart, board.loopBars, gauge.part, paths.path, paths.lanes];
    if (paths.fresh || paths.heard) return;
    const timer = setTimeout(() => void untrack(() => paths.listen()), CALM_MS);
    return () => clearTimeout(timer);
  });
  $effect(() => {
    void [session.trial, paths.heard];
    untrack(() => paths.follow());
  });
  $effect(() => ended(() => paths.leave()));
</script>

{#if several}
  <LanesBench />
{:else if strip && kind === 'return'}
  {#key strip.id}<ReturnBench {strip} />{/key}
{:else if strip && (kind === 'bus' || kind === 'main')}
  {#key strip.id}<BusBench {strip} />{/key}
{:else}
  <LanesBench />
{/if}
