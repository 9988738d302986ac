<!-- How it sounds without, as loud as with: the switches, and what makes it fair. -->
<script lang="ts">
  import type { Processor, Strip } from '$lib/api/types';
  import { desktop } from '$lib/state/context';

  let { strip, processor }: { strip?: Strip; processor?: Processor } = $props();
  const { compare, gauge } = desktop();
  const scope = $derived(processor ? 'processor' : strip ? 'chain' : 'all');
  const on = $derived(compare.is(scope, strip?.id, processor?.id));
  const text = $derived(
    { processor: 'Without it', chain: 'Without the chain', all: 'Without processors' }[scope],
  );
  const lufs = (db: number | null) => (db === null ? 'silence' : `${db.toFixed(1)} LUFS`);
  const about = $derived(
    compare.now
      ? `${lufs(compare.now.lufs.with)} with, ${lufs(compare.now.lufs.without)} without, over the loop`
      : '',
  );
  async function flip() {
    if (on && !compare.stale) compare.end();
    else if (on) await compare.again();
    else if (strip && processor) await compare.processor(strip, processor);
    else if (strip) await compare.chain(strip);
    else await compare.all();
  }
</script>

<span class="flex items-center gap-2">
  <button
    class="border-ink rounded-md border px-2 py-[2px] whitespace-nowrap disabled:opacity-50 {on
      ? 'bg-ink text-panel'
      : ''}"
    aria-pressed={on}
    title="Both as loud as each other, measured over the loop"
    disabled={gauge.part !== undefined || (processor !== undefined && !processor.on)}
    onclick={flip}>{text}</button
  >
  {#if on && compare.now}
    <span class="figures text-second whitespace-nowrap" title={about} data-testid="offset-{scope}"
      >{compare.now.offset > 0 ? '+' : ''}{compare.now.offset.toFixed(1)} dB to match</span
    >
    {#if compare.stale}<span class="text-look whitespace-nowrap">changed since; press to measure again</span
      >{/if}
  {/if}
</span>
