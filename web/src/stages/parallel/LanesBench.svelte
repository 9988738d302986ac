<!-- Chosen rows: how they lie against one of them, and what each sends. -->
<script lang="ts">
  import type { PathReading, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { alignmentSaid } from './path-words';
  import { counted } from '$lib/ui/counted';
  import HearingBar from '$stages/ui/HearingBar.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import SendFields from '../route/SendFields.svelte';
  import CombPicture from './CombPicture.svelte';
  import Lies from './Lies.svelte';
  import OffsetField from './OffsetField.svelte';

  const { session, board, paths } = desktop();
  const strips = $derived(
    board.strips.flatMap((id): Strip[] => session.doc.strips.filter((s) => s.id === id)),
  );
  const several = $derived(paths.lanes.length > 1);
  const reference = $derived(paths.lanes[0] ?? 0);
  const readings = $derived<PathReading[]>(
    paths.reading && `${paths.reading.lanes}` === `${paths.lanes}` ? paths.reading.compared : [],
  );
  const one = $derived(strips[0]);
  const tones = { good: 'text-good', look: 'text-look', second: 'text-second' };
  const second = $derived(readings[0]);
  const related = $derived(['in_time', 'off'].includes(second?.alignment.verdict ?? ''));
</script>

<div class="flex h-full min-h-0 flex-col gap-1">
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
    {#if several}
      <h2 class="font-semibold">{counted(paths.lanes.length, 'row')} against</h2>
      <Picker
        label="Held against"
        value={reference}
        options={paths.lanes.map((id) => ({ value: id, text: session.nameOf(id) }))}
        onpick={(id) => (paths.reference = id)}
      />
      <Lies {readings} of={readings.length > 1 ? 'all of them' : session.nameOf(second?.strip ?? null)} />
    {:else}
      <h2 class="font-semibold">{one ? session.nameOf(one.id) : ''}</h2>
      {#if one && one.kind !== 'main' && one.kind !== 'trigger'}
        <OffsetField strip={one} />
      {/if}
    {/if}
    <span class="flex-1"></span>
    <HearingBar hearing={paths} />
  </div>
  <div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-6">
    {#if several}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <div class="min-h-0 overflow-auto pr-3" tabindex="0" role="region" aria-label="How they lie">
        <table class="w-full text-right">
          <thead class="text-second">
            <tr>
              <th class="text-left font-normal">Row</th>
              <th class="text-left font-normal">Against {session.nameOf(reference)}</th>
              <th class="font-normal" title="Where both are most alike">Samples</th>
              <th class="font-normal">Correlation</th>
              <th class="font-normal" title="What moves it now: later, or earlier below 0">Offset</th>
            </tr>
          </thead>
          <tbody>
            {#each paths.lanes.slice(1) as id (id)}
              {@const reading = readings.find((r) => r.strip === id)}
              {@const said = reading && alignmentSaid(reading.alignment)}
              {@const strip = session.doc.strips.find((s) => s.id === id)}
              <tr class="border-line border-t">
                <td class="text-left">{session.nameOf(id)}</td>
                <td class="text-left {said ? tones[said.tone] : 'text-second'}">{said?.text ?? '…'}</td>
                <td class="figures">{reading ? (reading.alignment.delay_frames || 0).toFixed(1) : ''}</td>
                <td class="figures">{reading?.alignment.correlation.toFixed(2) ?? ''}</td>
                <td
                  >{#if strip}<OffsetField {strip} bare />{/if}</td
                >
              </tr>
            {/each}
          </tbody>
        </table>
        <p class="text-second mt-2">
          Two mics, layers or copies of one sound belong in time. Rows that have nothing in common are left
          alone.
        </p>
      </div>
      <CombPicture
        comb={related ? (paths.reading?.comb ?? undefined) : undefined}
        first={session.nameOf(reference)}
        second={session.nameOf(second?.strip ?? null)}
        off={second?.alignment.verdict === 'off'}
      />
    {:else}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <ul
        class="min-h-0 overflow-auto"
        tabindex="0"
        aria-label="Sends of {one ? session.nameOf(one.id) : 'the row'}"
      >
        {#each one?.sends ?? [] as send (send.to)}
          <li class="flex items-center gap-3">
            <span class="w-32 truncate">to {session.nameOf(send.to)}</span>
            {#if one}<SendFields strip={one} to={send.to} />{/if}
          </li>
        {:else}
          <li class="text-second">
            It sends nothing yet. New path … above makes one for all chosen rows: they feed it at full level,
            it begins off.
          </li>
        {/each}
      </ul>
      <p class="text-second">
        Choose two or more rows to see how they lie against each other: late, early or inverted, to the
        sample. Choose a return to blend it in, a bus or Main to see what its stations do.
      </p>
    {/if}
  </div>
</div>
