<!-- The bands of an equaliser: handles on the curve that the core's own coefficients give, over the spectrum of what
     comes out, and every value as a field. -->
<script lang="ts">
  import type { Band, BandInfo, Bands, Equaliser, Param, Settings, Strip } from '$lib/api/types';
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';
  import { untrack } from 'svelte';
  import FreqGrid from './FreqGrid.svelte';
  import { freqs as freqsOf, hz, hzOfPlace, line, placeOfHz } from './pictures';

  interface Props {
    settings: { kind: 'equaliser' } & Equaliser;
    info: BandInfo;
    strip: Strip;
    color: string;
    ontry: (to: Settings) => void;
    onset: (to: Settings) => void;
    oncancel: () => void;
  }
  let { settings, info, strip, color, ontry, onset, oncancel }: Props = $props();
  const { session, player, gauge } = desktop();
  const of = $derived(session.nameOf(strip.id));

  const [WIDTH, HEIGHT, RANGE] = [440, 128, 24];
  /** What of a spectrum is shown, in dBFS of a band. */
  const [QUIET, LOUD] = [-90, -6];
  const POINTS = 160;
  const xOf = (hz: number) => placeOfHz(hz) * WIDTH;
  const yOf = (db: number) => HEIGHT / 2 - (Math.max(-RANGE, Math.min(RANGE, db)) / RANGE) * (HEIGHT / 2 - 4);
  const freqs = freqsOf(POINTS);
  const draw = (curve: number[]) => line(curve.map((db, n) => [xOf(freqs[n] ?? 20), yOf(db)]));

  const curves = $derived(session.desk.curve(settings, freqs) ?? { rest: [], moved: [] });
  const moving = (band: Band) => bends(band) && band.range_db !== 0;
  const anyMoves = $derived(settings.bands.some((b) => moving(b) && b.switch === 'on'));
  const bends = (band: Band) => ['bell', 'low_shelf', 'high_shelf'].includes(band.shape);
  const sloped = (band: Band) => band.shape === 'high_pass' || band.shape === 'low_pass';

  const spectrumLine = (bands: Bands) =>
    line(
      bands.hz.map((f, n) => [
        xOf(f),
        HEIGHT - Math.max(0, Math.min(1, ((bands.db[n] ?? QUIET) - QUIET) / (LOUD - QUIET))) * HEIGHT,
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
  /** Of what comes out while playing; of the last run, after trim, when still. */
  const own = $derived(
    live ?? gauge.reading?.found.measured.strips.find((s) => s.strip === strip.id)?.spectrum,
  );
  let other = $state(0);
  const others = $derived([
    { value: 0, text: 'no other lane' },
    ...session.doc.strips
      .filter((s) => s.id !== strip.id && s.kind === 'channel')
      .map((s) => ({ value: s.id, text: session.nameOf(s.id) })),
  ]);
  const behind = $derived(gauge.reading?.found.measured.strips.find((s) => s.strip === other)?.spectrum);
  const marks = $derived(
    (gauge.reading?.found.suggestions ?? []).filter(
      (s) => s.strip === strip.id && s.freq_hz !== null && s.key.startsWith('ring'),
    ),
  );

  const withBand = (at: number, change: Partial<Band>): Settings => ({
    kind: 'equaliser',
    bands: settings.bands.map((band, n) => (n === at ? { ...band, ...change } : band)),
  });
  const param = (name: string) => info.params.find((p) => p.name === name) as Param;
  const options = (name: string) =>
    (info.choices.find((c) => c.name === name)?.options ?? []).map(([value, text]) => ({ value, text }));
  const held = (p: Param, value: number) => Math.max(p.min, Math.min(p.max, value));
  const top = $derived(0.49 * session.doc.header.sample_rate);
  const limited = $derived(settings.bands.flatMap((b, at) => (b.freq_hz > top ? [at + 1] : [])));

  function add() {
    onset({ kind: 'equaliser', bands: [...settings.bands, info.default] });
  }
  const remove = (at: number) =>
    onset({ kind: 'equaliser', bands: settings.bands.filter((_, n) => n !== at) });

  /** What lies in one band alone, while it is held; the bands as they are stay in sight. */
  let heard = $state.raw<{ at: number; bands: Band[] }>();
  const bands = $derived(heard?.bands ?? settings.bands);
  function listen(at: number) {
    const band = settings.bands[at];
    if (!band || heard) return;
    heard = { at, bands: settings.bands };
    const width = 2 ** Math.max(0.15, 0.7 / band.q);
    const pass = (shape: Band['shape'], freq_hz: number): Band => ({
      ...info.default,
      shape,
      slope: '24',
      freq_hz: held(param('freq_hz'), freq_hz),
    });
    const from = pass('high_pass', band.freq_hz / width);
    const to = pass('low_pass', band.freq_hz * width);
    const low = ['low_shelf', 'high_pass'].includes(band.shape);
    const high = ['high_shelf', 'low_pass'].includes(band.shape);
    const alone = low
      ? [pass('low_pass', band.freq_hz)]
      : high
        ? [pass('high_pass', band.freq_hz)]
        : [from, to];
    ontry({ kind: 'equaliser', bands: alone });
  }
  function listenEnds() {
    if (heard === undefined) return;
    heard = undefined;
    oncancel();
  }

  let drag: { at: number; to: Settings | undefined } | undefined;
  function move(event: PointerEvent) {
    const band = drag && settings.bands[drag.at];
    if (!drag || !band) return;
    const box = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
    if (!box) return;
    const at = hzOfPlace((event.clientX - box.left) / box.width);
    const freq_hz = Math.round(held(param('freq_hz'), at) * 10) / 10;
    const db = ((box.top + box.height / 2 - event.clientY) / (box.height / 2)) * RANGE;
    const gain_db = bends(band) ? Math.round(held(param('gain_db'), db) * 10) / 10 : band.gain_db;
    drag.to = withBand(drag.at, { freq_hz, gain_db });
    ontry(drag.to);
  }
  function drop() {
    if (drag?.to) onset(drag.to);
    drag = undefined;
  }
  function wheel(event: WheelEvent, at: number) {
    event.preventDefault();
    const band = settings.bands[at];
    if (!band) return;
    const q = Math.round(band.q * (event.deltaY < 0 ? 1.1 : 1 / 1.1) * 100) / 100;
    onset(withBand(at, { q: held(param('q'), q) }));
  }
  function key(event: KeyboardEvent, at: number) {
    const band = settings.bands[at];
    if (!band) return;
    const ratio = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (!ratio && !by) return;
    event.preventDefault();
    event.stopPropagation();
    if (ratio) {
      const freq_hz = band.freq_hz * (event.shiftKey ? 1.005 : 1.03) ** ratio;
      onset(withBand(at, { freq_hz: Math.round(held(param('freq_hz'), freq_hz) * 10) / 10 }));
    } else if (by && bends(band)) {
      const gain_db = held(param('gain_db'), band.gain_db + by * (event.shiftKey ? 0.1 : 0.5));
      onset(withBand(at, { gain_db: Math.round(gain_db * 10) / 10 }));
    }
  }
  type Field = 'freq_hz' | 'gain_db' | 'q' | 'range_db' | 'threshold_dbfs' | 'attack_ms' | 'release_ms';
  const fields: { name: Field; digits: number; unit?: string; shown: (band: Band) => boolean }[] = [
    { name: 'freq_hz', digits: 0, shown: () => true },
    { name: 'gain_db', digits: 1, shown: bends },
    { name: 'q', digits: 2, unit: 'Q', shown: (b) => !(sloped(b) && b.slope !== '12') },
    { name: 'range_db', digits: 1, unit: 'dB moving', shown: bends },
    { name: 'threshold_dbfs', digits: 1, unit: 'dBFS on', shown: moving },
    { name: 'attack_ms', digits: 1, unit: 'ms up', shown: moving },
    { name: 'release_ms', digits: 0, unit: 'ms back', shown: moving },
  ];
  const step = (p: Param, value: number) =>
    p.scale === 'even' ? 0.5 : Math.max(0.01, Math.round(value * 5) / 100);
</script>

<div class="mb-2 flex flex-wrap items-start gap-x-5 gap-y-2">
  <figure>
    <svg
      width={WIDTH}
      height={HEIGHT}
      viewBox="0 0 {WIDTH} {HEIGHT}"
      class="border-line bg-panel max-w-full rounded-sm border"
      role="group"
      aria-label="Curve of the equaliser of {of}"
    >
      {#if behind}
        <path
          data-testid="other-lane"
          d="{spectrumLine(behind)}L{WIDTH} {HEIGHT}L0 {HEIGHT}Z"
          fill="var(--second)"
          opacity="0.25"
        />
      {/if}
      {#if own}
        <path d="{spectrumLine(own)}L{WIDTH} {HEIGHT}L0 {HEIGHT}Z" fill={color} opacity="0.3" />
      {/if}
      <FreqGrid width={WIDTH} height={HEIGHT} />
      {#each [-12, 0, 12] as db (db)}
        <path d="M0 {yOf(db)}H{WIDTH}" stroke={db === 0 ? 'var(--line)' : 'var(--faint)'} />
        <text x="3" y={yOf(db) - 2} font-size="10" fill="var(--third)">{db > 0 ? '+' : ''}{db}</text>
      {/each}
      {#each marks as mark (mark.key)}
        <path d="M{xOf(mark.freq_hz ?? 20)} 0v10" stroke="var(--look)" stroke-width="2" />
      {/each}
      {#if anyMoves}
        <path
          d={draw(curves.moved)}
          fill="none"
          stroke="var(--look)"
          stroke-width="1.4"
          stroke-dasharray="4 3"
        />
      {/if}
      <path d={draw(curves.rest)} fill="none" stroke="var(--ink)" stroke-width="1.8" />
      {#each bands as band, at (at)}
        <g
          class="cursor-grab touch-none"
          role="slider"
          tabindex="0"
          aria-label="Band {at + 1}; arrow keys move it"
          aria-valuenow={band.freq_hz}
          aria-valuetext="{hz(band.freq_hz)}{bends(band) ? `, ${band.gain_db} dB` : ''}"
          opacity={band.switch === 'on' ? 1 : 0.35}
          data-band={at + 1}
          onkeydown={(event) => key(event, at)}
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
          onwheel={(event) => wheel(event, at)}
        >
          <circle
            cx={xOf(band.freq_hz)}
            cy={yOf(bends(band) ? band.gain_db : 0)}
            r="8"
            fill="var(--raised)"
            stroke="var(--ink)"
            stroke-width="1.6"
          />
          <text
            x={xOf(band.freq_hz)}
            y={yOf(bends(band) ? band.gain_db : 0) + 3.5}
            text-anchor="middle"
            font-size="10"
            fill="var(--ink)">{at + 1}</text
          >
        </g>
      {/each}
    </svg>
    <figcaption class="text-second flex items-center gap-2 text-[10px]">
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
    </figcaption>
  </figure>
  <div class="min-w-[400px] flex-1">
    <ol aria-label="Bands of the equaliser of {of}" class="mb-2 grid gap-1">
      {#each bands as band, at (at)}
        <li class="flex flex-wrap items-center gap-x-2">
          <span class="figures text-second w-4">{at + 1}</span>
          <input
            type="checkbox"
            style:accent-color="var(--ink)"
            aria-label="Band {at + 1} heard"
            checked={band.switch === 'on'}
            onchange={(event) => onset(withBand(at, { switch: event.currentTarget.checked ? 'on' : 'off' }))}
          />
          <Picker
            label="Shape of band {at + 1}"
            value={band.shape}
            options={options('shape') as { value: Band['shape']; text: string }[]}
            onpick={(shape) => onset(withBand(at, { shape }))}
          />
          {#each fields as field (field.name)}
            {@const p = param(field.name)}
            {#if field.shown(band)}
              <span class="flex items-center">
                <ValueField
                  label="{p.label} of band {at + 1}"
                  value={band[field.name]}
                  min={p.min}
                  max={p.max}
                  unit={p.unit}
                  reset={p.default}
                  digits={field.digits}
                  step={step(p, band[field.name])}
                  onlive={(to) => ontry(withBand(at, { [field.name]: to }))}
                  oncommit={(to) => onset(withBand(at, { [field.name]: to }))}
                  {oncancel}
                />
                <span class="text-second text-[11px]">{field.unit ?? p.unit}</span>
              </span>
            {/if}
          {/each}
          {#if sloped(band)}
            <Picker
              label="Slope of band {at + 1}"
              value={band.slope}
              options={options('slope') as { value: Band['slope']; text: string }[]}
              onpick={(slope) => onset(withBand(at, { slope }))}
            />
          {/if}
          <button
            class="text-second underline {heard?.at === at ? 'text-ink font-semibold' : ''}"
            aria-label="Listen to band {at + 1} alone while held"
            title="Hold to hear this band alone"
            onpointerdown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              listen(at);
            }}
            onpointerup={listenEnds}
            onlostpointercapture={listenEnds}
            onblur={listenEnds}
            onkeydown={(event) => event.key === ' ' && !event.repeat && listen(at)}
            onkeyup={listenEnds}>hear</button
          >
          <button class="text-second underline" aria-label="Remove band {at + 1}" onclick={() => remove(at)}
            >remove</button
          >
        </li>
      {:else}
        <li class="text-second">No bands yet; the sound passes as it is.</li>
      {/each}
    </ol>
    <Button disabled={settings.bands.length >= info.most} onclick={add}>Add a band</Button>
  </div>
</div>
