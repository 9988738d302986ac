<!-- How it sounds without, as loud as with: the switches, and what makes it fair. -->
<script lang="ts">
  import { setProcessor } from '$lib/state/edits';
  import type { Processor, Strip } from '$lib/api/types';
  import { range } from '$lib/limits';
  import { desktop } from '$stages/desktop';

  let { strip, processor }: { strip: Strip; processor?: Processor } = $props();
  const { compare, gauge, session } = desktop();
  const slot = range('slot_db');
  const scope = $derived(processor ? 'processor' : 'chain');
  const on = $derived(compare.is(scope, strip.id, processor?.id));
  const heard = $derived(on && compare.now?.heard === 'without');
  const text = $derived({ processor: 'Without it', chain: 'Without the chain' }[scope]);
  const lufs = (db: number | null) => (db === null ? 'silence' : `${db.toFixed(1)} LUFS`);
  const about = $derived(
    compare.now
      ? `${lufs(compare.now.lufs.with)} with, ${lufs(compare.now.lufs.without)} without, over the loop`
      : '',
  );
  async function flip() {
    if (on && !compare.stale) compare.flip();
    else if (on) await compare.again();
    else if (processor) await compare.processor(strip, processor);
    else await compare.chain(strip);
  }
  /** The output gain with which it is as loud with as without. */
  const even = $derived(
    processor && compare.now
      ? Math.max(
          slot.min,
          Math.min(slot.max, Math.round(10 * (processor.output_db - compare.now.offset)) / 10),
        )
      : 0,
  );
  function takeOver() {
    if (!processor) return;
    compare.end();
    session.apply(setProcessor(strip.id, processor.id, { what: 'output_db', to: even }));
  }
</script>

<span class="flex items-center gap-2">
  <button
    class="border-ink rounded-md border px-2 py-[2px] whitespace-nowrap disabled:opacity-50 {heard
      ? 'bg-ink text-panel'
      : ''}"
    aria-pressed={heard}
    title="Both as loud as each other, measured over the loop"
    disabled={gauge.part !== undefined || (processor !== undefined && !processor.on)}
    onclick={flip}>{text}</button
  >
  {#if on && compare.now}
    <span class="figures text-second whitespace-nowrap" title={about} data-testid="offset-{scope}"
      >{compare.now.offset > 0 ? '+' : ''}{compare.now.offset.toFixed(1)} dB to match</span
    >
    {#if processor && !compare.stale && Math.abs(compare.now.offset) >= 0.05}
      <button
        class="whitespace-nowrap underline"
        title="Output gain {even.toFixed(1)} dB makes it as loud with as without"
        onclick={takeOver}>take it over</button
      >
    {/if}
    {#if compare.stale}<span class="text-look whitespace-nowrap">changed since; press to measure again</span
      >{/if}
  {/if}
</span>
