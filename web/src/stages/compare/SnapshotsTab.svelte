<!-- Snapshots of the session: taken, named, held against now, removed. -->
<script lang="ts">
  import type { SnapshotLine } from '$lib/api/types';
  import { LIMITS } from '$lib/api/types/limits';
  import { desktop } from '$stages/desktop';
  import NameField from '$lib/ui/NameField.svelte';
  import { when } from './words';

  const { versions, sides } = desktop();
  let name = $state('');
  async function take(event: SubmitEvent) {
    event.preventDefault();
    const wanted = name.trim() || `Snapshot ${(versions.list?.length ?? 0) + 1}`;
    // What was typed stays where it could not be taken.
    if (await versions.take(wanted)) name = '';
  }
  const figure = (x: number | null | undefined) => (x === null || x === undefined ? '–' : x.toFixed(1));
  const isOther = (line: SnapshotLine) => sides.has(line.id);
  const button = 'border-ink rounded-md border px-2 py-[2px] whitespace-nowrap disabled:opacity-50';
</script>

<form class="mb-1 flex items-center gap-2" onsubmit={take}>
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
<table class="w-full">
  <thead class="text-second text-left">
    <tr>
      <th class="font-normal">Name</th>
      <th class="pl-3 font-normal">Taken</th>
      <th class="pl-3 text-right font-normal">LUFS</th>
      <th class="pl-3 text-right font-normal" title="The highest short-term loudness, in LUFS">short</th>
      <th class="pl-3 text-right font-normal">dBTP</th>
      <th class="pl-3 text-right font-normal">crest</th>
      <th><span class="sr-only">What can be done</span></th>
    </tr>
  </thead>
  <tbody>
    {#each versions.list ?? [] as line (line.id)}
      <tr class="border-line border-t {isOther(line) ? 'bg-chosen' : ''}">
        <td class="w-full max-w-0 truncate {line.by_hand ? '' : 'text-second'}">
          <NameField
            value={line.name}
            label="Name of snapshot {line.name}"
            onname={(to) => void versions.rename(line.id, to)}
          />
        </td>
        <td class="text-second pl-3 whitespace-nowrap">{when(line.taken_at, new Date())}</td>
        <td class="figures pl-3 text-right">{figure(line.figures.lufs)}</td>
        <td class="figures pl-3 text-right">{figure(line.figures.short_term_lufs)}</td>
        <td class="figures pl-3 text-right">{figure(line.figures.true_peak_dbtp)}</td>
        <td class="figures pl-3 text-right">{figure(line.figures.crest_db)}</td>
        <td class="pl-3 text-right whitespace-nowrap">
          <button
            class="px-1 underline"
            aria-pressed={isOther(line)}
            aria-label="{isOther(line) ? 'Leave' : 'Compare with'} {line.name}"
            onclick={() => (isOther(line) ? sides.remove(line.id) : void sides.addSnapshot(line))}
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
        ><td colspan="7" class="text-second"
          >{versions.list
            ? 'None yet. One is taken before every render and before proposals are taken over, too.'
            : 'Being fetched …'}</td
        ></tr
      >
    {/each}
  </tbody>
</table>
