<script lang="ts">
  import CheckMark from '$lib/ui/CheckMark.svelte';
  import { LIMITS } from '$lib/api/types/limits';
  import { api } from '$lib/api/client';
  import type { Depth, StemRange, Tap } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { bytesText } from '$lib/bytes';
  import Button from '$lib/ui/Button.svelte';
  import { barsAt, counted } from '$lib/ui/counted';
  import Picker from '$lib/ui/Picker.svelte';

  const { session, board, trackOut } = desktop();
  const doc = $derived(session.doc);
  const plan = $derived(doc.stem_plan);
  const preview = $derived(trackOut.preview);
  const limited = $derived(
    doc.strips.some((s) => s.kind === 'main' && s.chain.some((p) => p.on && p.settings.kind === 'limiter')),
  );

  const same = (a: StemRange, b: StemRange) => JSON.stringify(a) === JSON.stringify(b);
  const ranges = $derived.by(() => {
    const loop: StemRange = { kind: 'bars', from_bar: board.loopStart, bars: board.loop.length };
    const list: { range: StemRange; text: string }[] = [
      { range: { kind: 'song' }, text: `Whole song, ${counted(board.bars.length, 'bar')}` },
      ...doc.sections.map((s) => ({
        range: { kind: 'section', section: s.id } as StemRange,
        text: `Section ${s.name}`,
      })),
      { range: loop, text: `Loop, ${barsAt(board.loopStart, board.loop.length)}` },
    ];
    if (plan.range.kind === 'bars' && !same(plan.range, loop)) {
      const { from_bar, bars } = plan.range;
      list.push({ range: plan.range, text: `Bars ${from_bar + 1} to ${from_bar + bars}` });
    }
    return list;
  });
  const rangeAt = $derived(ranges.findIndex((r) => same(r.range, plan.range)));
  const depths: { value: Depth; text: string }[] = [
    { value: 'int24', text: '24-bit WAV' },
    { value: 'float32', text: '32-bit float WAV' },
  ];
  const taps: { value: Tap; text: string }[] = [
    { value: 'dry', text: 'Dry, after the trim' },
    { value: 'channel', text: 'Channel, after the fader' },
  ];
  const seconds = (frames: number) => {
    const s = frames / doc.header.sample_rate;
    return `${Math.floor(s / 60)}:${(s % 60).toFixed(3).padStart(6, '0')}`;
  };

  const render = $derived(trackOut.latest);
  const part = $derived(render ? render.frames_done / Math.max(1, render.frames_total) : 0);
  const done = $derived(trackOut.lastDone);
  /** A report of an earlier version says nothing of it. */
  const cutOff = $derived((done?.report?.figures.cut_off as string[] | undefined) ?? []);
  const figure = $derived(done?.report?.figures.sum_minus_main_dbfs);
  const addsUp = $derived(
    figure !== null && figure !== undefined && figure <= (plan.depth === 'float32' ? -120 : -105),
  );

  const text = {
    queued: 'Waiting for its turn',
    running: 'Rendering',
    done: 'Done',
    failed: 'Failed',
    cancelled: 'Cancelled',
  };
  let labelText = $state<string>();
  function keepLabel() {
    if (labelText !== undefined && labelText.trim() && labelText !== plan.label)
      trackOut.setPlan({ label: labelText.trim() });
    labelText = undefined;
  }
</script>

<div class="grid h-full grid-cols-[minmax(0,5fr)_minmax(0,4fr)_minmax(0,4fr)] gap-6">
  <div class="grid min-w-0 content-start gap-[5px]">
    <h2 class="mb-1 font-semibold">Plan</h2>
    <Picker
      label="Range"
      named
      value={rangeAt}
      options={ranges.map((r, at) => ({ value: at, text: r.text }))}
      onpick={(at) => ranges[at] && trackOut.setPlan({ range: ranges[at].range })}
    />
    <label class="flex items-center gap-2">
      <span class="text-second w-20">Tails</span>
      <CheckMark checked={plan.tail} onchange={(to) => trackOut.setPlan({ tail: to })} />
      <span>let sounds ring out behind the range</span>
    </label>
    {#if limited}
      <label class="flex items-center gap-2">
        <span class="text-second w-20">Limiter</span>
        <CheckMark checked={plan.with_limiter} onchange={(to) => trackOut.setPlan({ with_limiter: to })} />
        <span>{plan.with_limiter ? 'of Main is in its stem' : 'of Main is not in the stems'}</span>
      </label>
    {/if}
    <Picker
      label="Tap of all"
      named
      value={plan.tap}
      options={taps}
      onpick={(tap) => trackOut.setPlan({ tap, taps: [] })}
    />
    <Picker
      label="Format"
      named
      value={plan.depth}
      options={depths}
      onpick={(depth) => trackOut.setPlan({ depth })}
    />
    <label class="flex items-center gap-2">
      <span class="text-second w-20 shrink-0">Label</span>
      <input
        class="figures border-line bg-panel min-w-0 flex-1 rounded-sm border px-1.5 py-[3px]"
        aria-label="Label pattern"
        maxlength={LIMITS.label_chars}
        value={labelText ?? plan.label}
        oninput={(event) => (labelText = event.currentTarget.value)}
        onblur={keepLabel}
        onkeydown={(event) => event.key === 'Enter' && keepLabel()}
      />
    </label>
    <p class="text-second pl-[88px] text-[12px]">
      {'{number} {voice} {tap} {title} {tempo} {key} {version}'}
    </p>
  </div>
  <div class="min-w-0 overflow-auto">
    <h2 class="font-semibold">Checks</h2>
    <ul class="mt-2 grid gap-1">
      {#if 'error' in preview}
        <li class="text-wrong">{preview.error}</li>
      {:else}
        <li>
          <span class="text-good" aria-hidden="true">●</span>
          {counted(preview.stems.length, 'stem')}, all {seconds(preview.frames)}, all from the same sample
        </li>
        <li><span class="text-good" aria-hidden="true">●</span> Labels are unique on every file system</li>
        {#each preview.warnings as warning, at (at)}
          <li><span class="text-look" aria-hidden="true">●</span> {warning.text}</li>
        {/each}
      {/if}
    </ul>
    {#if done?.report}
      <h3 class="text-second mt-3">Render {done.version}: sum of channel stems less Main</h3>
      {#if figure === null || figure === undefined}
        <p class="text-second">not measured: no channel was tapped after its fader</p>
      {:else}
        <p>
          <span class="figures text-[20px]! {addsUp ? 'text-good' : 'text-look'}" data-testid="sum-figure"
            >{figure.toFixed(1)} dBFS</span
          >
          <span class="text-second pl-2"
            >{addsUp
              ? 'they add up'
              : cutOff.length > 0
                ? `over full scale and cut off there: ${cutOff.join(', ')}. Lower it, or track out in 32-bit float`
                : done.report.figures.not_in_sum.length
                  ? `without ${done.report.figures.not_in_sum.join(', ')}`
                  : 'a bus or Main changes the level'}</span
          >
        </p>
      {/if}
      <p class="figures text-second">Main {done.report.figures.main_true_peak_dbtp.toFixed(1)} dBTP</p>
    {/if}
  </div>
  <div class="flex min-w-0 flex-col">
    <h2 class="font-semibold">Render</h2>
    {#if render && trackOut.running}
      <div
        class="bg-faint mt-2 h-2"
        role="progressbar"
        aria-label="Render"
        aria-valuenow={Math.round(part * 100)}
        aria-valuemin={0}
        aria-valuemax={100}
      >
        <div class="bg-ink h-2" style:width="{part * 100}%"></div>
      </div>
      <p class="mt-1 flex justify-between" role="status">
        <span class="text-second">{text[render.status]} · {Math.round(part * 100)} %</span>
        <Button kind="text" onclick={() => trackOut.cancel()}>Cancel</Button>
      </p>
    {:else if render}
      <p class="mt-2" role="status" data-testid="render-status">
        Render {render.version}: {text[render.status].toLowerCase()}{render.reason
          ? `. ${render.reason}`
          : ''}
      </p>
      <ul class="mt-1 min-h-0 overflow-auto" aria-label="Renders">
        {#each trackOut.renders as old (old.id)}
          <li class="text-second flex items-baseline gap-2">
            <span class="flex-1">Render {old.version}, {text[old.status].toLowerCase()}</span>
            <span class="figures">{old.status === 'done' ? bytesText(old.bytes) : ''}</span>
            <Button
              kind="text"
              aria-label="Remove render {old.version}"
              onclick={() => trackOut.remove(old.id)}>Remove</Button
            >
          </li>
        {/each}
      </ul>
    {:else}
      <p class="text-second mt-2">
        Every chosen strip becomes a file; a session sheet and checksums come with them.
      </p>
    {/if}
    {#if trackOut.problem}<p role="alert" class="text-wrong mt-1">{trackOut.problem}</p>{/if}
    <div class="mt-auto flex gap-2 pb-1">
      {#if done}
        <a
          class="border-ink rounded-md border px-3 py-[5px] whitespace-nowrap"
          href={api.zipUrl(done.id)}
          download>Download render {done.version} ({bytesText(done.bytes)})</a
        >
      {/if}
      <Button
        kind="first"
        class="ml-auto"
        disabled={trackOut.running || 'error' in preview || session.trouble !== undefined}
        onclick={() => trackOut.start()}>Track out</Button
      >
    </div>
  </div>
</div>
