<!-- The sides: which is heard, how loud each is, by how much it is moved, and what else could be held against now. -->
<script lang="ts">
  import { untrack } from 'svelte';
  import { desktop } from '$stages/desktop';
  import { LETTERS, Sides } from './sides.svelte';
  import { signed } from '$stages/parallel/path-words';
  import ActionMenu from '$lib/ui/ActionMenu.svelte';
  import GaugeBar from '$stages/ui/GaugeBar.svelte';
  import { COLOURS } from './pictures';

  const { sides, versions, session, trackOut, gauge, compare, paths, blind } = desktop();
  let input = $state<HTMLInputElement>();
  const figure = (x: number | null | undefined) => (x === null || x === undefined ? '–' : x.toFixed(1));
  const choices = $derived([
    ...(sides.has('without') ? [] : [{ value: 'without', text: 'Without processors' }]),
    { value: 'bring', text: 'A reference from a file …' },
    ...session.doc.references
      .filter((r) => !sides.has(`reference ${r.id}`))
      .map((r) => ({ value: `reference ${r.id}`, text: `Reference: ${r.name}` })),
    ...(versions.list ?? [])
      .filter((line) => !sides.has(line.id))
      .map((line) => ({ value: line.id, text: `Snapshot: ${line.name}` })),
    ...trackOut.renders
      .filter((r) => r.status === 'done' && Sides.mainOf(r) !== undefined && !sides.has(r.id))
      .map((r) => ({ value: r.id, text: `Render ${r.version}` })),
  ]);
  function pick(value: string) {
    const reference = session.doc.references.find((r) => value === `reference ${r.id}`);
    const line = versions.list?.find((l) => l.id === value);
    const render = trackOut.renders.find((r) => r.id === value);
    if (value === 'without') sides.without();
    else if (value === 'bring') input?.click();
    else if (reference) sides.addReference(reference);
    else if (line) void sides.addSnapshot(line);
    else if (render) void sides.addRender(render);
  }
  function bring(files: FileList | null | undefined) {
    const file = files?.[0];
    if (file) void sides.bringReference(file);
    if (input) input.value = '';
  }
  // A match that is of something else is measured again a moment after the last change, playing or not.
  const CALM_MS = 400;
  /** Of what measuring was called off last: it is not begun again by itself. */
  let given: object | undefined;
  $effect(() => {
    const whole = sides.measured && !sides.stale;
    if (sides.others.length === 0 || whole || gauge.part !== undefined) return;
    const of = sides.sounding();
    if (of === given) return;
    const timer = setTimeout(() => {
      void untrack(() => sides.measure()).then((came) => (given = came ? undefined : of));
    }, CALM_MS);
    return () => clearTimeout(timer);
  });

  function hear(at: number) {
    compare.end();
    paths.end();
    void sides.hear(at);
  }
</script>

<!-- svelte-ignore a11y_no_static_element_interactions -->
<div
  class="flex min-h-0 flex-col"
  ondrop={(event) => {
    event.preventDefault();
    event.stopPropagation();
    bring(event.dataTransfer?.files);
  }}
>
  <table class="w-full">
    <thead class="text-second text-right text-[12px]">
      <tr>
        <th colspan="2" class="text-ink pb-1 text-left text-[13px] font-semibold">Sides</th>
        <th
          class="pl-3 font-normal whitespace-nowrap"
          title="Integrated over the loop, or over what of a reference is played">LUFS</th
        >
        <th class="pl-3 font-normal whitespace-nowrap" title="The highest short-term loudness, in LUFS"
          >short</th
        >
        <th class="pl-3 font-normal whitespace-nowrap">dBTP</th>
        <th class="pl-3 font-normal whitespace-nowrap">crest</th>
        <th class="pl-3 font-normal whitespace-nowrap">matched by</th>
        <th><span class="sr-only">Take away</span></th>
      </tr>
    </thead>
    <tbody data-testid="sides">
      {#each sides.all as side, at (side.key)}
        {@const figures = sides.figuresOf(side)}
        <tr class="border-line border-t {sides.isFresh(side) ? '' : 'text-second'}">
          <td class="py-[3px] pr-2">
            <button
              class="grid h-6 w-6 place-items-center rounded-sm border font-semibold disabled:opacity-50 {sides.at ===
              at
                ? 'bg-ink text-panel border-ink'
                : 'border-line hover:bg-chosen'}"
              aria-label="{LETTERS[at]} {side.name}"
              aria-pressed={sides.at === at}
              title="Hear it (Shift {at + 1}); X hears the next"
              disabled={sides.others.length > 0 && !sides.measured && gauge.part !== undefined}
              onclick={() => hear(at)}>{LETTERS[at]}</button
            >
          </td>
          <td class="w-full max-w-0 truncate" title={side.name}>
            <span
              class="mr-2 inline-block h-[14px] w-[3px] align-middle"
              style:background={COLOURS[at]}
              aria-hidden="true"
            ></span>{side.name}{#if sides.isWhole(side)}<span
                class="text-look ml-2"
                title="It holds everything, while now is heard in part">whole mix</span
              >{/if}</td
          >
          <td class="figures pl-3 text-right">{figure(figures?.lufs)}</td>
          <td class="figures pl-3 text-right">{figure(figures?.short_term_lufs)}</td>
          <td class="figures pl-3 text-right">{figure(figures?.true_peak_dbtp)}</td>
          <td class="figures pl-3 text-right">{figure(figures?.crest_db)}</td>
          <td class="figures pl-3 text-right whitespace-nowrap"
            >{sides.measured && sides.others.length > 0
              ? sides.stale
                ? '…'
                : figures?.lufs === null
                  ? 'silent'
                  : `${signed(sides.offsets[at] ?? 0)} dB`
              : '–'}</td
          >
          <td class="pl-2 text-right">
            {#if at > 0}
              <button
                class="text-second hover:bg-chosen rounded-sm px-1"
                aria-label="Take {side.name} away"
                onclick={() => sides.remove(side.key)}>×</button
              >
            {/if}
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  <div class="mt-2 flex flex-wrap items-center gap-2">
    <ActionMenu
      text="Another side"
      label="Another side … to hold against now"
      items={choices}
      onpick={pick}
    />
    {#if sides.others.length > 0}
      <ActionMenu
        text="Compare blind"
        label="Compare blind … without names"
        items={[
          { value: 'preference', text: 'Which is better: choose, then see which it was' },
          { value: 'recognition', text: 'Is X the same as A or as B' },
        ]}
        onpick={(kind) => void blind.start(kind)}
      />
      <button class="underline" onclick={() => sides.end()}>End comparing</button>
    {/if}
    <input
      bind:this={input}
      type="file"
      class="sr-only"
      tabindex="-1"
      aria-label="A reference from a file"
      accept="audio/*,.wav,.aif,.aiff,.flac,.mp3,.ogg"
      onchange={() => bring(input?.files)}
    />
  </div>
  <div class="mt-2 min-h-5">
    <GaugeBar />
    {#if sides.problem}<p role="alert" class="text-wrong">{sides.problem}</p>{/if}
    {#if sides.stale && gauge.part === undefined}
      <p class="text-look">
        Something changed since it was measured. <button
          class="underline"
          onclick={() => void sides.measure()}>Measure again</button
        >
      </p>
    {:else if sides.others.length === 0}
      <p class="text-second max-w-sm">
        Hold a snapshot, a render, a reference or the mix without processors against now: all as loud as the
        softest, switched while it plays.
      </p>
    {/if}
  </div>
</div>
