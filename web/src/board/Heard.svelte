<!-- What is heard instead of the mix as it is: the key of a processor, or a comparison; and the way back. It has a line of its own, so that it
     covers nothing. -->
<script lang="ts">
  import { desktop } from '$stages/desktop';

  const { session, player, compare, paths, sides } = desktop();
  const owner = $derived(
    session.doc.strips.find((s) =>
      s.chain.some((p) => p.id === (player.listening ?? compare.now?.processor)),
    ),
  );
  const kindOf = (id: number | undefined) => {
    const processor = owner?.chain.find((p) => p.id === id);
    return processor ? session.desk.nameOf(processor).toLowerCase() : 'processor';
  };
  const row = $derived(
    session.nameOf(player.listening === undefined ? (compare.now?.strip ?? 0) : (owner?.id ?? 0)),
  );
  const now = $derived.by(() => {
    if (player.listening !== undefined) {
      return {
        sentence: `You hear the key of the ${kindOf(player.listening)} of ${row}.`,
        back: 'Hear main',
        end: () => player.listen(owner?.id ?? 0, undefined),
      };
    }
    // While nobody is to know, the round's own buttons say what can be said.
    if (sides.hidden) return undefined;
    if (sides.at > 0) {
      const down = sides.offsets[sides.at] ?? 0;
      const by = down <= -0.05 ? `, ${(-down).toFixed(1)} dB softer to match` : ', as loud as it is';
      return { sentence: `You hear ${sides.name}${by}.`, back: 'Hear now', end: () => void sides.hear(0) };
    }
    const { heard } = paths;
    if (heard) {
      const down =
        heard.kind === 'without' && heard.down >= 0.05
          ? ` All of it ${heard.down.toFixed(1)} dB softer.`
          : '';
      const parts =
        heard.kind === 'mended'
          ? [heard.mended ? 'mended' : 'as it is', ...(heard.mono ? ['in mono'] : [])]
          : [];
      return {
        sentence:
          heard.kind === 'without'
            ? `You hear it ${heard.heard} ${session.nameOf(heard.strip)}, both as loud.${down}`
            : `You hear it ${parts.join(', ')}; nothing of it is kept.`,
        back: heard.kind === 'without' ? 'End comparing' : 'Hear it as it is',
        end: () => paths.end(),
      };
    }
    const { now } = compare;
    if (!now) return undefined;
    const what = {
      processor: `the ${kindOf(now.processor)} of ${row}`,
      chain: `the chain of ${row}`,
    }[now.scope];
    const down = now.down >= 0.05 ? ` All of it ${now.down.toFixed(1)} dB softer.` : '';
    return {
      sentence: `You hear it ${now.heard} ${what}, both as loud.${down}`,
      back: 'End comparing',
      end: () => compare.end(),
    };
  });
</script>

{#if now}
  <div
    role="status"
    data-testid="heard"
    class="bg-look flex shrink-0 items-center justify-end gap-3 px-3 py-1 whitespace-nowrap"
    style:color="var(--panel)"
  >
    <span>{now.sentence}</span>
    <button class="underline" onclick={now.end}>{now.back}</button>
  </div>
{/if}
