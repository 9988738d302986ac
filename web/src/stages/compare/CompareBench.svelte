<!-- Snapshots of the session, both sides with their loudness, and the differences of the chosen row. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import type { DifferenceKind, SnapshotLine } from '$lib/api/types';
  import { desktop } from '$lib/state/context';
  import { LIMITS } from '$lib/api/types/limits';
  import { signed } from '$lib/state/path-words';
  import GaugeBar from '$lib/ui/GaugeBar.svelte';
  import NameField from '$lib/ui/NameField.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { KINDS, shown, when } from './words';

  const { session, board, versions, compare, gauge, paths } = desktop();
  let name = $state('');
  let kind = $state<DifferenceKind | 'all'>('all');
  let everything = $state(false);
  $effect(() => untrack(() => void versions.refresh()));
  // What differs is worked out a moment after the last change.
  const CALM_MS = 200;
  $effect(() => {
    void [session.settledDoc, versions.other, versions.heard];
    const timer = setTimeout(() => untrack(() => versions.compare()), CALM_MS);
    return () => clearTimeout(timer);
  });
  $effect(() => {
    void [session.trial, versions.heard];
    untrack(() => versions.follow());
  });
  $effect(() => () => untrack(() => versions.hearNow()));

  function take(event: SubmitEvent) {
    event.preventDefault();
    const wanted = name.trim() || `Snapshot ${(versions.list?.length ?? 0) + 1}`;
    name = '';
    void versions.take(wanted);
  }
  const figure = (x: number | null | undefined) => (x === null || x === undefined ? '–' : x.toFixed(1));
  const row = $derived(board.current);
  const here = $derived(new Set(board.rows.map((r) => r.strip.id)));
  const listed = $derived(
    shown(versions.differences?.list ?? [], everything ? undefined : row?.strip.id, kind, here),
  );
  const button = 'border-ink rounded-md border px-2 py-[2px] whitespace-nowrap disabled:opacity-50';
  const offsets = $derived(versions.offsets);
  async function hear(side: 'now' | 'then') {
    compare.end();
    paths.end();
    if (side === 'then') await versions.hearThen();
    else versions.hearNowMatched();
  }
  const isOther = (line: SnapshotLine) => versions.other?.id === line.id;
</script>

<div class="grid h-full min-h-0 grid-cols-[minmax(0,5fr)_minmax(0,6fr)] gap-6">
  <div class="flex min-h-0 flex-col">
    <form class="mb-1 flex items-center gap-2" onsubmit={take}>
      <h2 class="font-semibold">Snapshots</h2>
      <input
        class="border-line bg-panel min-w-0 flex-1 rounded-md border px-2 py-[2px]"
        aria-label="Name of the new snapshot"
        placeholder="Name of a new one"
        maxlength={LIMITS.name_chars}
        bind:value={name}
      />
      <button class="{button} bg-ink text-panel" type="submit">Take a snapshot</button>
    </form>
    {#if versions.problem}<p role="alert" class="text-wrong">{versions.problem}</p>{/if}
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div class="min-h-0 flex-1 overflow-auto pr-2" tabindex="0" role="region" aria-label="Snapshots">
      <table class="w-full">
        <thead class="text-second text-left">
          <tr>
            <th class="font-normal">Name</th>
            <th class="font-normal">Taken</th>
            <th class="text-right font-normal">LUFS</th>
            <th class="text-right font-normal">dBTP</th>
            <th class="text-right font-normal">crest</th>
            <th><span class="sr-only">What can be done</span></th>
          </tr>
        </thead>
        <tbody>
          {#each versions.list ?? [] as line (line.id)}
            <tr class="border-line border-t {isOther(line) ? 'bg-chosen' : ''}">
              <td class="max-w-[190px] truncate {line.by_hand ? '' : 'text-second'}">
                <NameField
                  value={line.name}
                  label="Name of snapshot {line.name}"
                  onname={(to) => void versions.rename(line.id, to)}
                />
              </td>
              <td class="text-second whitespace-nowrap">{when(line.taken_at, new Date())}</td>
              <td class="figures text-right">{figure(line.figures.lufs)}</td>
              <td class="figures text-right">{figure(line.figures.true_peak_dbtp)}</td>
              <td class="figures text-right">{figure(line.figures.crest_db)}</td>
              <td class="text-right whitespace-nowrap">
                <button
                  class="px-1 underline"
                  aria-pressed={isOther(line)}
                  aria-label="{isOther(line) ? 'Leave' : 'Compare with'} {line.name}"
                  onclick={() => void (isOther(line) ? versions.drop() : versions.choose(line))}
                  >{isOther(line) ? 'Leave' : 'Compare'}</button
                >
                <button
                  class="text-second px-1 underline"
                  aria-label="Remove snapshot {line.name}"
                  onclick={() => void versions.remove(line.id)}>Remove</button
                >
              </td>
            </tr>
          {:else}
            <tr
              ><td colspan="6" class="text-second"
                >{versions.list
                  ? 'None yet. One is taken before every render and before proposals are taken over, too.'
                  : 'Being fetched …'}</td
              ></tr
            >
          {/each}
        </tbody>
      </table>
    </div>
  </div>
  <div class="flex min-h-0 flex-col">
    {#if versions.other}
      {@const { other } = versions}
      <div class="mb-1 flex flex-wrap items-center gap-x-3 gap-y-1">
        <span class="flex" role="group" aria-label="What is heard">
          <button
            class="{button} rounded-r-none {versions.heard === 'now'
              ? 'bg-ink text-panel'
              : 'hover:bg-chosen'}"
            aria-pressed={versions.heard === 'now'}
            onclick={() => void hear('now')}>A Now</button
          >
          <button
            class="{button} max-w-[200px] truncate rounded-l-none border-l-0 {versions.heard === 'then'
              ? 'bg-ink text-panel'
              : 'hover:bg-chosen'}"
            aria-pressed={versions.heard === 'then'}
            disabled={gauge.part !== undefined}
            title="Both as loud as the softer one, measured over the loop"
            onclick={() => void hear('then')}>B {other.name}</button
          >
        </span>
        {#if versions.measured && versions.loudness}
          <span class="figures text-second text-[12px]!" data-testid="sides"
            >A {figure(versions.loudness.now.lufs)} LUFS, {signed(offsets.now)} dB · B {figure(
              versions.loudness.then.lufs,
            )} LUFS, {signed(offsets.then)} dB</span
          >
        {/if}
        <GaugeBar />
        <span class="flex-1"></span>
        <button
          class="{button} hover:bg-chosen"
          title="All of it, in one step that can be undone; a snapshot of now is taken before"
          disabled={versions.differences?.list.length === 0}
          onclick={() => void versions.goBack()}>Go back to it</button
        >
      </div>
      <div class="mb-1 flex items-center gap-3">
        <h3 class="font-semibold">{everything ? 'All rows' : (row?.name ?? '')}</h3>
        <Picker label="Kind of difference" value={kind} options={KINDS} onpick={(to) => (kind = to)} />
        <button class="underline" aria-pressed={everything} onclick={() => (everything = !everything)}
          >{everything ? 'The chosen row alone' : 'Of all rows'}</button
        >
        <span class="text-second" data-testid="count"
          >{versions.differences ? `${versions.differences.list.length} differences in all` : ''}</span
        >
      </div>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <ul class="min-h-0 flex-1 overflow-auto pr-2" tabindex="0" aria-label="Differences">
        {#each listed as difference (difference.key)}
          <li class="border-line flex items-center gap-3 border-t py-[2px]">
            {#if everything}
              <span class="w-28 shrink-0 truncate"
                >{difference.strip === null
                  ? 'The song'
                  : here.has(difference.strip)
                    ? session.nameOf(difference.strip)
                    : 'Not here now'}</span
              >
            {/if}
            <span class="min-w-0 flex-1">{difference.now || '–'}</span>
            <span class="text-second min-w-0 flex-1">{difference.then || '–'}</span>
            <button
              class="border-line hover:bg-chosen shrink-0 rounded-sm border px-2"
              aria-label="Take it: {difference.then}"
              title={difference.also.length > 0
                ? `Changes ${difference.also.map((id) => session.nameOf(id)).join(', ')} too`
                : undefined}
              onclick={() => void versions.takeOver(difference)}>Take it</button
            >
          </li>
        {:else}
          <li class="text-second">
            {versions.differences?.list.length === 0
              ? 'Both are the same.'
              : 'Nothing of that kind differs here.'}
          </li>
        {/each}
      </ul>
    {:else}
      <p class="text-second max-w-md">
        Choose a snapshot to see, row by row, what differs from now, to hear both at one loudness, and to take
        single differences back.
      </p>
    {/if}
  </div>
</div>
