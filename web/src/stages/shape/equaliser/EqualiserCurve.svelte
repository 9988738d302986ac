<!-- Handles on the curve that the core's own coefficients give, over the spectrum of what comes out. -->
<script lang="ts">
  import type { Band, BandInfo, Bands, Param, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Graph from '$lib/ui/Graph.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import { untrack } from 'svelte';
  import FreqGrid from '../FreqGrid.svelte';
  import { freqs as freqsOf, hz, hzOfPlace, line, placeOfHz } from '../pictures';
  import { bends, held, movedTo, moves, RANGE, stepped, withBand, type EqualiserSettings } from './bands';

  interface Props {
    /** What is heard. */
    settings: EqualiserSettings;
    /** How much of its gains acts, in %. */
    mix: number;
    /** The bands that have handles. */
    bands: Band[];
    info: BandInfo;
    strip: Strip;
    color: string;
    ontry: (to: EqualiserSettings) => void;
    onset: (to: EqualiserSettings) => void;
    oncancel: () => void;
  }
  let { settings, mix, bands, info, strip, color, ontry, onset, oncancel }: Props = $props();
  const { session, player, gauge } = desktop();
  const of = $derived(session.nameOf(strip.id));

  let [width, height] = $state([440, 128]);
  /** What of a spectrum is shown, in dBFS of a band. */
  const [QUIET, LOUD] = [-90, -6];
  const POINTS = 200;
  const xOf = (hz: number) => placeOfHz(hz) * width;
  const yOf = (db: number) => height / 2 - (Math.max(-RANGE, Math.min(RANGE, db)) / RANGE) * (height / 2 - 4);
  const freqs = freqsOf(POINTS);
  const draw = (curve: number[]) => line(curve.map((db, n) => [xOf(freqs[n] ?? 20), yOf(db)]));

  const curves = $derived(session.desk.curve(settings, freqs, mix) ?? { rest: [], moved: [] });
  const anyMoves = $derived(settings.bands.some((b) => moves(b) && b.switch === 'on'));

  const spectrumLine = (bands: Bands) =>
    line(
      bands.hz.map((f, n) => [
        xOf(f),
        height - Math.max(0, Math.min(1, ((bands.db[n] ?? QUIET) - QUIET) / (LOUD - QUIET))) * height,
      ]),
    );
  /** How fast a spectrum falls, in dB per message at 15 a second. */
  const FALL = 1.2;
  let live = $state.raw<Bands>();
  $effect(() => {
    const { watched } = player;
    live = watched && untrack(() => fallen(session.desk.spectrum(watched.behind), live));
  });
  const fallen = (now: Bands, before: Bands | undefined): Bands => ({
    hz: now.hz,
    db: now.db.map((db, n) => Math.max(db, (before?.db[n] ?? QUIET) - FALL)),
  });
  const measured = (id: number) => gauge.reading?.found.measured.strips.find((s) => s.strip === id)?.spectrum;
  /** Of what comes out while playing; of the last run, after trim, when still. */
  const own = $derived(live ?? measured(strip.id));
  let other = $state(0);
  const others = $derived([
    { value: 0, text: 'no other lane' },
    ...session.doc.strips
      .filter((s) => s.id !== strip.id && s.kind === 'channel')
      .map((s) => ({ value: s.id, text: session.nameOf(s.id) })),
  ]);
  const behind = $derived(measured(other));
  const marks = $derived(
    (gauge.reading?.found.suggestions ?? []).filter(
      (s) => s.strip === strip.id && s.freq_hz !== null && s.key.startsWith('ring'),
    ),
  );
  const param = (name: string) => info.params.find((p) => p.name === name) as Param;
  const [freq, gain, q] = [param('freq_hz'), param('gain_db'), param('q')];
  const top = $derived(0.49 * session.header.sample_rate);
  const limited = $derived(settings.bands.flatMap((b, at) => (b.freq_hz > top ? [at + 1] : [])));

  let drag: { at: number; to: EqualiserSettings | undefined } | undefined;
  function move(event: PointerEvent) {
    const band = drag && settings.bands[drag.at];
    const box = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
    if (!drag || !band || !box) return;
    const at = hzOfPlace((event.clientX - box.left) / box.width);
    const db = ((box.top + box.height / 2 - event.clientY) / (box.height / 2)) * RANGE;
    drag.to = withBand(settings, drag.at, movedTo(band, freq, gain, at, db));
    ontry(drag.to);
  }
  function drop() {
    if (drag?.to) onset(drag.to);
    drag = undefined;
  }
  function wheel(event: WheelEvent, at: number, band: Band) {
    event.preventDefault();
    const to = Math.round(band.q * (event.deltaY < 0 ? 1.1 : 1 / 1.1) * 100) / 100;
    onset(withBand(settings, at, { q: held(q, to) }));
  }
  function key(event: KeyboardEvent, at: number, band: Band) {
    const change = stepped(band, freq, gain, event.key, event.shiftKey);
    if (!change) return;
    event.preventDefault();
    event.stopPropagation();
    if (Object.keys(change).length > 0) onset(withBand(settings, at, change));
  }
</script>

<Graph bind:width bind:height role="group" label="Curve of the equaliser of {of}">
  {#if behind}
    <path
      data-testid="other-lane"
      d="{spectrumLine(behind)}L{width} {height}L0 {height}Z"
      fill="var(--second)"
      opacity="0.25"
    />
  {/if}
  {#if own}
    <path d="{spectrumLine(own)}L{width} {height}L0 {height}Z" fill={color} opacity="0.3" />
  {/if}
  <FreqGrid {width} {height} />
  {#each [-12, 0, 12] as db (db)}
    <path d="M0 {yOf(db)}H{width}" stroke={db === 0 ? 'var(--line)' : 'var(--faint)'} />
    <text x="3" y={yOf(db) - 2} font-size="10" fill="var(--second)">{db > 0 ? '+' : ''}{db}</text>
  {/each}
  {#each marks as mark (mark.key)}
    <path d="M{xOf(mark.freq_hz ?? 20)} 0v10" stroke="var(--look)" stroke-width="2" />
  {/each}
  {#if anyMoves}
    <path d={draw(curves.moved)} fill="none" stroke="var(--look)" stroke-width="1.4" stroke-dasharray="4 3" />
  {/if}
  <path d={draw(curves.rest)} fill="none" stroke="var(--ink)" stroke-width="1.8" />
  {#each bands as band, at (at)}
    {@const y = yOf(bends(band) ? band.gain_db : 0)}
    <g
      class="cursor-grab touch-none"
      role="slider"
      tabindex="0"
      aria-label="Band {at + 1}; arrow keys move it"
      aria-valuenow={band.freq_hz}
      aria-valuetext="{hz(band.freq_hz)}{bends(band) ? `, ${band.gain_db} dB` : ''}"
      opacity={band.switch === 'on' ? 1 : 0.35}
      data-band={at + 1}
      onkeydown={(event) => key(event, at, band)}
      onpointerdown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag = { at, to: undefined };
      }}
      onpointermove={move}
      onpointerup={drop}
      onpointercancel={() => {
        drag = undefined;
        oncancel();
      }}
      onwheel={(event) => wheel(event, at, band)}
    >
      <circle
        cx={xOf(band.freq_hz)}
        cy={y}
        r="8"
        fill="var(--raised)"
        stroke="var(--ink)"
        stroke-width="1.6"
      />
      <text x={xOf(band.freq_hz)} y={y + 3.5} text-anchor="middle" font-size="10" fill="var(--ink)"
        >{at + 1}</text
      >
    </g>
  {/each}
  {#snippet caption()}
    <span class="flex h-6 items-center gap-3">
      {#if own}<span>behind it: {live ? 'what comes out now' : 'the loop after trim'}</span>{/if}
      {#if gauge.reading}
        <Picker
          label="Another lane’s spectrum behind it"
          value={other}
          options={others}
          onpick={(id) => (other = id)}
        />
      {/if}
      {#if anyMoves}<span class="text-look">dashed: moved all the way</span>{/if}
      {#if limited.length > 0}
        <span class="text-wrong">band {limited.join(', ')} held at {hz(top)}, the top of this rate</span>
      {/if}
    </span>
  {/snippet}
</Graph>
