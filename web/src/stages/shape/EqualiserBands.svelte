<!-- The bands of an equaliser: handles on the curve that the core's own coefficients give, and every value as a field. -->
<script lang="ts">
  import type { Band, BandInfo, Equaliser, Param, Settings } from '$lib/api/types';
  import { desktop } from '$lib/state/context';
  import Button from '$lib/ui/Button.svelte';
  import Picker from '$lib/ui/Picker.svelte';
  import ValueField from '$lib/ui/ValueField.svelte';

  interface Props {
    settings: { kind: 'equaliser' } & Equaliser;
    info: BandInfo;
    /** The lane's name, for labels. */
    of: string;
    ontry: (to: Settings) => void;
    onset: (to: Settings) => void;
    oncancel: () => void;
  }
  let { settings, info, of, ontry, onset, oncancel }: Props = $props();
  const { session } = desktop();

  const [WIDTH, HEIGHT, RANGE] = [440, 120, 24];
  const POINTS = 160;
  const [LOW, HIGH] = [20, 20000];
  const hzAt = (x: number) => LOW * (HIGH / LOW) ** (x / WIDTH);
  const xOf = (hz: number) => (Math.log(hz / LOW) / Math.log(HIGH / LOW)) * WIDTH;
  const yOf = (db: number) => HEIGHT / 2 - (Math.max(-RANGE, Math.min(RANGE, db)) / RANGE) * (HEIGHT / 2 - 4);
  const freqs = Array.from({ length: POINTS + 1 }, (_, n) => hzAt((n / POINTS) * WIDTH));

  const curve = $derived(
    session.desk
      .curve({ bands: settings.bands }, freqs)
      .map((db, n) => `${n === 0 ? 'M' : 'L'}${xOf(freqs[n] ?? LOW).toFixed(1)} ${yOf(db).toFixed(1)}`)
      .join(''),
  );
  const bends = (band: Band) => ['bell', 'low_shelf', 'high_shelf'].includes(band.shape);
  const sloped = (band: Band) => band.shape === 'high_pass' || band.shape === 'low_pass';
  const withBand = (at: number, change: Partial<Band>): Settings => ({
    kind: 'equaliser',
    bands: settings.bands.map((band, n) => (n === at ? { ...band, ...change } : band)),
  });
  const param = (name: string) => info.params.find((p) => p.name === name) as Param;
  const options = (name: string) =>
    (info.choices.find((c) => c.name === name)?.options ?? []).map(([value, text]) => ({ value, text }));
  const held = (p: Param, value: number) => Math.max(p.min, Math.min(p.max, value));

  function add() {
    onset({ kind: 'equaliser', bands: [...settings.bands, info.default] });
  }
  const remove = (at: number) =>
    onset({ kind: 'equaliser', bands: settings.bands.filter((_, n) => n !== at) });

  let drag: { at: number; to: Settings | undefined } | undefined;
  function move(event: PointerEvent) {
    const band = drag && settings.bands[drag.at];
    if (!drag || !band) return;
    const box = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
    if (!box) return;
    const freq_hz =
      Math.round(held(param('freq_hz'), hzAt(((event.clientX - box.left) / box.width) * WIDTH)) * 10) / 10;
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
    if (band)
      onset(
        withBand(at, {
          q: held(param('q'), Math.round(band.q * (event.deltaY < 0 ? 1.1 : 1 / 1.1) * 100) / 100),
        }),
      );
  }
  const fields = ['freq_hz', 'gain_db', 'q'] as const;
  const digits = { freq_hz: 0, gain_db: 1, q: 2 };
  const step = (name: (typeof fields)[number], value: number) =>
    name === 'gain_db' ? 0.5 : Math.max(0.01, Math.round(value * 5) / 100);
</script>

<div class="mb-2 flex flex-wrap items-start gap-5">
  <svg
    width={WIDTH}
    height={HEIGHT}
    viewBox="0 0 {WIDTH} {HEIGHT}"
    class="border-line bg-panel max-w-full rounded-sm border"
    role="img"
    aria-label="Curve of the equaliser of {of}"
  >
    {#each [100, 1000, 10000] as hz (hz)}
      <path d="M{xOf(hz)} 0V{HEIGHT}" stroke="var(--faint)" />
      <text x={xOf(hz) + 3} y={HEIGHT - 4} font-size="10" fill="var(--third)"
        >{hz < 1000 ? hz : `${hz / 1000}k`}</text
      >
    {/each}
    {#each [-12, 0, 12] as db (db)}
      <path d="M0 {yOf(db)}H{WIDTH}" stroke={db === 0 ? 'var(--line)' : 'var(--faint)'} />
      <text x="3" y={yOf(db) - 2} font-size="10" fill="var(--third)">{db > 0 ? '+' : ''}{db}</text>
    {/each}
    <path d={curve} fill="none" stroke="var(--ink)" stroke-width="1.8" />
    {#each settings.bands as band, at (at)}
      <!-- svelte-ignore a11y_no_static_element_interactions -->
      <g
        class="cursor-grab touch-none"
        opacity={band.switch === 'on' ? 1 : 0.35}
        data-band={at + 1}
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
  <div class="min-w-[400px] flex-1">
    <ol aria-label="Bands of the equaliser of {of}" class="mb-2 grid gap-1">
      {#each settings.bands as band, at (at)}
        <li class="flex items-center gap-2">
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
          {#each fields as name (name)}
            {@const p = param(name)}
            {#if name === 'freq_hz' || (name === 'gain_db' && bends(band)) || (name === 'q' && !(sloped(band) && band.slope !== '12'))}
              <span class="flex items-center">
                <ValueField
                  label="{p.label} of band {at + 1}"
                  value={band[name]}
                  min={p.min}
                  max={p.max}
                  unit={p.unit}
                  reset={p.default}
                  digits={digits[name]}
                  step={step(name, band[name])}
                  onlive={(to) => ontry(withBand(at, { [name]: to }))}
                  oncommit={(to) => onset(withBand(at, { [name]: to }))}
                  {oncancel}
                />
                <span class="text-second text-[11px]">{name === 'q' ? 'Q' : p.unit}</span>
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
