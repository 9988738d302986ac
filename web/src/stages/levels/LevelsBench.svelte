<!-- What adds up where: every bus and main with what feeds it, while playing. -->
<script lang="ts">
  import { dbOf, placeOf } from '$lib/audio/meters.svelte';
  import { stripName } from '$lib/state/board.svelte';
  import { desktop } from '$lib/state/context';
  import type { PanLaw } from '$lib/api/types';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';

  const { session, player, board } = desktop();
  const laws: { value: PanLaw; text: string }[] = [
    { value: 'minus3', text: '-3 dB, constant power' },
    { value: 'minus_4_5', text: '-4.5 dB' },
    { value: 'minus6', text: '-6 dB' },
    { value: 'zero', text: '0 dB, balance' },
  ];
  const sums = $derived.by(() => {
    void player.meters.tick;
    const out = (id: number) => player.meters.level(id, 'out');
    return board.rows
      .filter((row) => !row.voice)
      .map((row) => row.strip)
      .map((strip) => {
        const feeders = session.doc.strips.flatMap((s) => {
          const send = s.sends.find((d) => d.to === strip.id && !d.mute);
          return [
            ...(s.output === strip.id ? [{ id: s.id, gain: 1 }] : []),
            ...(send ? [{ id: s.id, gain: 10 ** (send.level_db / 20) }] : []),
          ];
        });
        // Sources that have nothing in common add up by power.
        const expected = Math.sqrt(
          feeders.reduce((sum, f) => {
            const [l, r] = out(f.id).rms;
            return sum + (f.gain * f.gain * (l * l + r * r)) / 2;
          }, 0),
        );
        const [l, r] = player.meters.level(strip.id, 'source').rms;
        return {
          strip,
          feeders: feeders.length,
          expected,
          measured: Math.sqrt((l * l + r * r) / 2),
          out: out(strip.id),
        };
      });
  });
  const text = (gain: number) => (gain > 0.0005 ? dbOf(gain).toFixed(1) : '–');
</script>

<div class="grid h-full grid-cols-[minmax(0,1fr)_280px] gap-8">
  <div>
    <h2>
      <b>What adds up where</b>
      <span class="text-second">RMS before trim; the dashed mark is what unlike sources would add up to</span>
    </h2>
    <table class="mt-2 w-full">
      <thead class="text-second text-left text-[12px]">
        <tr>
          <th class="w-28 font-normal">Bus</th>
          <th class="font-normal">Level</th>
          <th class="w-16 text-right font-normal">RMS</th>
          <th class="w-20 text-right font-normal">Expected</th>
          <th class="w-20 text-right font-normal">Peak</th>
        </tr>
      </thead>
      <tbody>
        {#each sums as sum (sum.strip.id)}
          <tr>
            <td class="truncate">{stripName(session.doc, sum.strip.id)}</td>
            <td class="pr-4">
              <div class="bg-faint relative h-3">
                <div
                  class="absolute inset-y-0 left-0"
                  style:width="{placeOf(sum.measured) * 100}%"
                  style:background="var(--{sum.strip.kind === 'main' ? 'ink' : 'bus'})"
                ></div>
                {#if sum.expected > 0.001}
                  <div
                    class="border-ink absolute -inset-y-[3px] border-l-2 border-dotted"
                    style:left="{placeOf(sum.expected) * 100}%"
                  ></div>
                {/if}
              </div>
            </td>
            <td class="figures text-right">{text(sum.measured)}</td>
            <td class="figures text-second text-right">{text(sum.expected)}</td>
            <td class="figures text-right">{text(sum.out.highest)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <div class="text-second">
    <p>
      Drag a value up or down, type it, or step it with the arrow keys. With several rows chosen it is set on
      all of them.
    </p>
    <div class="text-ink mt-3">
      <Picker
        label="Pan law"
        named
        value={session.doc.header.pan_law}
        options={laws}
        onpick={(pan_law) =>
          session.apply({ kind: 'set_header', header: { ...session.doc.header, pan_law } })}
      />
    </div>
    <Button class="text-ink mt-3" onclick={() => player.meters.clearPeaks()}>Clear peaks</Button>
  </div>
</div>
