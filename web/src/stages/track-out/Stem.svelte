<!-- One strip as a stem: in or out, tap, file name, what the last render measured. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import type { Tap } from '$lib/api/types';
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import Picker from '$lib/ui/Picker.svelte';
  import { included, tapOf, withStrip, withTap } from './plan';

  let { row }: { row: Row } = $props();
  const { session, trackOut } = desktop();
  const plan = $derived(session.doc.stem_plan);
  const isIn = $derived(included(plan, row.strip));
  /** Voices of a shared channel are one stem, shown on its first row. */
  const stem = $derived(
    'error' in trackOut.preview ? undefined : trackOut.preview.stems.find((s) => s.strip === row.strip.id),
  );
  const warning = $derived(
    'error' in trackOut.preview ? undefined : trackOut.preview.warnings.find((w) => w.strip === row.strip.id),
  );
  const last = $derived.by(() => {
    const report = trackOut.lastDone?.report;
    const at = report?.stems.findIndex((s) => s.strip === row.strip.id) ?? -1;
    return at < 0 ? undefined : report?.figures.stems[at];
  });
  const taps: { value: Tap; text: string }[] = [
    { value: 'dry', text: 'Dry' },
    { value: 'channel', text: 'Channel' },
  ];
</script>

{#if row.strip.kind === 'trigger'}
  <p class="text-second flex items-center pl-2">a trigger, in no stem</p>
{:else if row.leads}
  <div class="flex min-w-0 flex-1 items-center">
    <div class="w-[56px] pl-2">
      <CheckMark
        name="Track out {row.name}"
        checked={isIn}
        onchange={(to) => trackOut.setPlan(withStrip(plan, row.strip, to))}
      />
    </div>
    <div class="w-[110px]">
      {#if isIn && row.kind !== 'main'}
        <Picker
          label="Tap of {row.name}"
          value={tapOf(plan, row.strip)}
          options={taps}
          onpick={(tap) => trackOut.setPlan(withTap(plan, row.strip, tap))}
        />
      {:else if isIn}<span class="text-second pl-1">as heard</span>{/if}
    </div>
    <div class="figures min-w-0 flex-1 truncate pr-3" title={stem?.file_name}>
      {stem?.file_name ?? ''}
      {#if warning && isIn}<span class="text-look ml-2 font-sans">{warning.text}</span>{/if}
    </div>
    <div class="figures text-second w-[220px]">
      {#if last}
        {last.peak_dbfs <= -200 ? 'silent' : last.peak_dbfs.toFixed(1)}
        <span class="pl-4">{last.integrated_lufs?.toFixed(1) ?? '–'}</span>
        {#if last.overs > 0}<span class="text-wrong pl-3">{last.overs} over</span>{/if}
      {/if}
    </div>
  </div>
{:else}
  <p class="text-second flex items-center pl-2">with {row.shares.join(', ')}</p>
{/if}
