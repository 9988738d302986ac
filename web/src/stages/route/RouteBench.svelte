<!-- The chosen row's ways to main, its connections, routing of many rows in one action, and checks. -->
<script lang="ts">
  import type { Check, Trace } from '$lib/api/types';
  import { dbOf } from '$lib/audio/meters.svelte';
  import { desktop } from '$stages/desktop';
  import Button from '$lib/ui/Button.svelte';
  import { counted } from '$lib/ui/counted';
  import Picker from '$lib/ui/Picker.svelte';
  import TabBar from '$lib/ui/TabBar.svelte';
  import Connections from './Connections.svelte';
  import Many from './Many.svelte';
  import { TABS } from './tabs';

  const { session, player, board } = desktop();
  const tab = $derived(board.tabOf('route'));
  const doc = $derived(session.doc);
  const rate = $derived(doc.header.sample_rate);

  /** The lane whole, or one of its layers. */
  let layer = $state(-1);
  const layers = $derived.by(() => {
    const source = board.current?.voice?.source;
    return source?.kind === 'one_shot' ? source.layers.length : 0;
  });
  /** Gates that stay shut, looked at now and then: it takes half a second to know. */
  let shut = $state<number[]>([]);
  $effect(() => {
    if (player.meters.tick % 20 === 0) {
      const now = player.meters.shut;
      if (now.join() !== shut.join()) shut = now;
    }
  });
  const trace = $derived.by((): Trace | undefined => {
    void doc;
    const row = board.current;
    return (
      row &&
      session.desk.trace({
        voice: row.voice?.id ?? null,
        layer: layer >= 0 && layer < layers ? layer : null,
        strip: row.strip.id,
        from_bar: board.loopStart,
        bars: board.loop.length,
        missing: player.missing,
        late: player.late,
        shut,
      })
    );
  });
  const latest = $derived.by(() => {
    void doc;
    return Math.max(0, ...session.desk.latency().map((l) => l.leaves));
  });
  const ms = (frames: number) => `${((frames / rate) * 1000).toFixed(2)} ms`;
  const looks = $derived(board.checks.filter((c) => !c.dismissed));
  const dismissed = $derived(board.checks.filter((c) => c.dismissed));
  let shown = $state(false);
  const dismiss = (check: Check) =>
    session.apply({ kind: 'dismiss_check', key: check.key, dismissed: !check.dismissed });
  const level = (strip: number) => {
    void player.meters.slow;
    const db = dbOf(player.meters.level(strip, 'out').held);
    return db > -60 ? `${db.toFixed(1)} dBFS` : 'silent';
  };
</script>

<div class="grid h-full grid-cols-[minmax(0,1fr)_360px_minmax(0,260px)] gap-6">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="min-w-0 overflow-auto" aria-label="Trace" role="region" tabindex="0">
    {#if trace}
      {@const repair = trace.repair}
      <p class="flex flex-wrap items-center gap-x-3 gap-y-1" role="status">
        <span class={trace.silent && !trace.on_purpose ? 'text-wrong' : ''}>{trace.sentence}</span>
        {#if repair}
          <Button kind="first" onclick={() => session.apply(repair.edit)}>{repair.name}</Button>
        {/if}
        {#if layers > 1}
          <Picker
            label="Trace of"
            value={layer < layers ? layer : -1}
            options={[
              { value: -1, text: 'all layers' },
              ...Array.from({ length: layers }, (_, n) => ({ value: n, text: `layer ${n + 1}` })),
            ]}
            onpick={(n) => (layer = n)}
          />
        {/if}
      </p>
      {#each trace.ways as way, n (n)}
        {#if trace.ways.length > 1}
          <p class="text-second mt-1.5 text-[12px]">
            {way.steps[1]?.by_send ? 'By a send' : 'By its output'}{#if way.gain_db !== null}<span
                class="figures pl-2"
                title="What the way adds, as long as nothing is reduced"
                >{way.gain_db > 0 ? '+' : ''}{way.gain_db.toFixed(1)} dB</span
              >{/if}
          </p>
        {/if}
        <ol class="mt-1 flex flex-wrap gap-y-2" aria-label="Way {n + 1}">
          {#each way.steps as step, at (step.strip)}
            <li class="w-[104px] min-w-0">
              <div class="flex items-center">
                <span
                  class="h-3 w-3 shrink-0 {step.by_send ? 'rounded-sm' : 'rounded-full'} {step.stop
                    ? 'bg-wrong'
                    : 'bg-ink'}"
                ></span>
                {#if at < way.steps.length - 1}
                  {@const thin = way.steps[at + 1]?.by_send}
                  <span class="flex-1 {thin ? 'h-px' : 'h-[3px]'} {step.stop ? 'bg-line' : 'bg-ink'}"></span>
                {/if}
              </div>
              <p class="mt-1 truncate pr-2 {step.stop ? 'text-wrong' : ''}" title={step.stop}>
                {step.by_send ? 'send: ' : ''}{step.name}
              </p>
              <p
                class="figures text-second truncate"
                title={step.leaves > 0
                  ? `Sound leaves ${step.name} ${step.leaves} samples after its hit`
                  : undefined}
              >
                {level(step.strip)}{#if step.leaves > 0}<span class="text-second pl-1">+{step.leaves}</span
                  >{/if}
              </p>
            </li>
          {/each}
        </ol>
      {/each}
      {#if latest > 0}
        <p class="text-second mt-2">
          Latency of processors is made up for: everything waits for the slowest way, {latest} samples, {ms(
            latest,
          )}.
        </p>
      {/if}
    {/if}
  </div>
  <div class="min-h-0 pt-1">
    <TabBar tabs={TABS} value={tab} label="What is routed" onpick={(to) => board.show('route', to)}>
      {#if tab === 'row'}<Connections />{:else}<Many />{/if}
    </TabBar>
  </div>
  <div class="min-h-0 overflow-auto" aria-label="Checks" role="region">
    <h2 class="font-semibold">
      {looks.length === 0 ? 'Nothing else worth a look' : `${counted(looks.length, 'thing')} worth a look`}
    </h2>
    <ul class="mt-1">
      {#each shown ? board.checks : looks as check (check.key)}
        {@const repair = check.repair}
        <li class="border-faint border-b py-1 {check.dismissed ? 'text-second' : ''}">
          <p>{check.sentence}</p>
          <p class="flex gap-3 text-[12px]">
            {#if repair}<button class="underline" onclick={() => session.apply(repair.edit)}
                >{repair.name}</button
              >{/if}
            <button class="text-second underline" onclick={() => dismiss(check)}
              >{check.dismissed ? 'Show again' : 'Do not show'}</button
            >
          </p>
        </li>
      {/each}
    </ul>
    {#if dismissed.length > 0}
      <button class="text-second mt-1 text-[12px] underline" onclick={() => (shown = !shown)}
        >{shown ? 'Hide' : 'Show'} {counted(dismissed.length, 'dismissed check')}</button
      >
    {/if}
  </div>
</div>
