<!-- A bus or main: what its compressor takes against its budget, and what each station along it does. -->
<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import { setSettings } from '$lib/state/edits';
  import type { ReadyChain, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { signed } from './path-words';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import Field from '$lib/ui/Field.svelte';
  import HearingBar from '$stages/ui/HearingBar.svelte';
  import { tried } from '$lib/state/tried';
  import ChainLine from './ChainLine.svelte';
  import OffsetField from './OffsetField.svelte';
  import PressPicture from './PressPicture.svelte';
  import { stationLines } from './stations';

  let { strip }: { strip: Strip } = $props();
  const { session, paths, gauge, trackOut } = desktop();
  const name = $derived(session.nameOf(strip.id));
  const main = $derived(strip.kind === 'main');
  const press = $derived(paths.bench?.press ?? undefined);
  const processor = $derived(strip.chain.find((p) => p.on && p.settings.kind === 'compressor'));
  const compressor = $derived(processor?.settings.kind === 'compressor' ? processor.settings : undefined);
  const lines = $derived(
    stationLines(
      gauge.reading?.found.measured.strips.find((s) => s.strip === strip.id),
      strip,
      (p) => session.desk.nameOf(p),
    ),
  );
  const limiter = $derived(strip.chain.some((p) => p.on && p.settings.kind === 'limiter'));
  const compressors = session.desk.chainsFor('bus_compressor');
  const stations = $derived(session.desk.chainsFor('bus', ...(main ? (['main'] as const) : [])));
  const offered = (of: ReadyChain[]) => of.map((c) => ({ value: c.name, text: c.text }));
  function add(chain: ReadyChain | undefined) {
    if (!chain) return;
    const { processors } = chain;
    // A limiter of main stays last.
    const last = strip.chain.findIndex((p) => p.settings.kind === 'limiter');
    const at = last < 0 ? null : last;
    session.apply({ kind: 'insert_processors', strips: [strip.id], processors, at, replace: false });
  }
  const set = (change: 'threshold_dbfs' | 'budget_db') =>
    tried(session, (to) =>
      processor && compressor
        ? setSettings(session.settledDoc, strip.id, processor.id, {
            ...processor.settings,
            [change]: to,
          } as typeof processor.settings)
        : undefined,
    );
  const [threshold, budget] = [set('threshold_dbfs'), set('budget_db')];
  const taken = $derived(Math.abs(press?.deepest_db ?? 0));
  const over = $derived(compressor && compressor.budget_db > 0 && taken > compressor.budget_db + 0.05);
</script>

<div class="flex h-full min-h-0 flex-col gap-1">
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
    <h2 class="font-semibold">{name}</h2>
    <ChainLine {strip} />
    <ActionMenu
      text="Bus compressor"
      label="Add a bus compressor to {name}"
      items={offered(compressors)}
      onpick={(name) => add(compressors.find((c) => c.name === name))}
    />
    <ActionMenu
      text="Add"
      label="Add a station to {name}"
      items={offered(stations)}
      onpick={(name) => add(stations.find((c) => c.name === name))}
    />
    {#if main && limiter}
      <label class="flex items-center gap-2">
        <CheckMark
          checked={session.doc.stem_plan.with_limiter}
          onchange={(to) => trackOut.setPlan({ with_limiter: to })}
        />
        limiter in stems
      </label>
    {/if}
    {#if !main}<OffsetField {strip} />{/if}
    <span class="flex-1"></span>
    <HearingBar hearing={paths} />
  </div>
  <div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(360px,480px)] gap-6">
    <div class="flex min-h-0 min-w-0 flex-col">
      <PressPicture {press} budget={compressor?.budget_db ?? 0} of="the compressor of {name}" />
      {#if processor && compressor}
        <div class="mt-1 flex flex-wrap items-center gap-x-5">
          <div class="w-[180px]">
            <Field
              name="Threshold"
              label="Threshold of the compressor of {name}"
              value={compressor.threshold_dbfs}
              min={-80}
              max={0}
              step={0.5}
              unit="dBFS"
              reset={-18}
              behind="dB"
              {...threshold}
            />
          </div>
          <div class="w-[150px]">
            <Field
              name="Budget"
              label="Budget of the compressor of {name}"
              value={compressor.budget_db}
              min={0}
              max={24}
              offAt={0}
              step={0.5}
              unit="dB"
              {...budget}
            />
          </div>
          {#if compressor.budget_db > 0 && press?.solvable}
            <button
              class="border-ink hover:bg-chosen rounded-md border px-2 py-[2px] whitespace-nowrap"
              title="The threshold at which it takes just that at its deepest over the loop"
              onclick={() => void paths.reach({ goal: 'within', db: compressor.budget_db })}
              >Fit to the budget</button
            >
          {/if}
          <span class={over ? 'text-wrong' : 'text-second'} data-testid="budget"
            >{press
              ? `takes ${taken.toFixed(1)} dB at its deepest${
                  over ? `, ${(taken - compressor.budget_db).toFixed(1)} over its budget` : ''
                }`
              : ''}</span
          >
        </div>
      {/if}
    </div>
    <div class="min-h-0 overflow-auto pr-3">
      <div class="flex items-center gap-3">
        <h3 class="font-semibold">What each station does</h3>
        <button
          class="border-ink hover:bg-chosen rounded-md border px-2 py-[2px] disabled:opacity-50"
          disabled={gauge.part !== undefined || gauge.fresh}
          onclick={() => void gauge.measure('Measuring stations')}>Measure over the loop</button
        >
        <span class="text-second"
          >{gauge.reading ? (gauge.fresh ? 'as it is now' : 'changed since it was measured') : ''}</span
        >
      </div>
      <table class="figures mt-1 w-full text-right text-[12px]!" aria-label="Stations of {name}">
        <thead class="text-second font-sans">
          <tr>
            <th class="text-left font-normal">After</th>
            <th class="pr-12 font-normal" title="LUFS, and what it changed in LU">Loudness</th>
            <th class="pr-12 font-normal" title="Sample peak in dBFS, and what it changed in dB">Peak</th>
            <th class="pr-12 font-normal" title="Peak over the mean, in dB, and what it changed">Crest</th>
          </tr>
        </thead>
        <tbody class={gauge.fresh ? '' : 'text-second'}>
          {#each lines as line (line.name)}
            <tr>
              <td class="text-left font-sans">{line.name}</td>
              {#each line.figures as figure, at (at)}
                <td
                  >{figure.now?.toFixed(1) ?? 'silent'}<span class="text-second inline-block w-12"
                    >{figure.change === undefined ? '' : signed(figure.change)}</span
                  ></td
                >
              {/each}
            </tr>
          {:else}
            <tr><td colspan="4" class="text-second text-left font-sans">Not measured yet.</td></tr>
          {/each}
        </tbody>
      </table>
      {#if main && limiter && !session.doc.stem_plan.with_limiter}
        <p class="text-second mt-2">The limiter is not in stems: Main is tracked out as it is before it.</p>
      {/if}
    </div>
  </div>
</div>
