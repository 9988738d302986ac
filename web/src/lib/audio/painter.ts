/**
 * Draws all meters by one means: on canvases, once a picture, only those in sight and only where something changed.
 * Nothing of it makes the browser lay anything out.
 */

/** What a meter shows, linear. */
export interface Bars {
  rms: number;
  peak: number;
  held: number;
  /** Whether it went over full scale since peaks were cleared. */
  over: boolean;
}

export interface Painted {
  /** Keeps the meter's place; nothing is drawn in it. */
  place: HTMLElement;
  read: () => Bars;
  /** A level to reach, in dBFS. */
  target?: number | undefined;
}

/** Where things stand on a meter of a width and height in pixels of the screen. */
export interface Geometry {
  rms: number;
  peak: number;
  held: number;
  over: boolean;
}

/** Where bars end, in whole pixels, so that what looks the same is not drawn again. */
export function geometry(bars: Bars, width: number, placeOf: (gain: number) => number): Geometry {
  const at = (gain: number) => Math.round(placeOf(gain) * width);
  return {
    rms: at(bars.rms),
    peak: at(bars.peak),
    held: bars.held > 0.001 ? at(bars.held) : -1,
    over: bars.over,
  };
}

const same = (a: Geometry | undefined, b: Geometry) =>
  a?.rms === b.rms && a.peak === b.peak && a.held === b.held && a.over === b.over;

/** A rectangle, in pixels. */
export interface Area {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** The smallest area around all, in whole pixels, as far as it lies inside `within`; nothing of no areas. */
export function around(areas: readonly Area[], within: Area): Area | undefined {
  const least = (of: (a: Area) => number) => Math.floor(Math.min(...areas.map(of)));
  const most = (of: (a: Area) => number) => Math.ceil(Math.max(...areas.map(of)));
  if (areas.length === 0) return undefined;
  const x = Math.max(
    Math.floor(within.x),
    least((a) => a.x),
  );
  const y = Math.max(
    Math.floor(within.y),
    least((a) => a.y),
  );
  const right = Math.min(
    Math.ceil(within.x + within.width),
    most((a) => a.x + a.width),
  );
  const bottom = Math.min(
    Math.ceil(within.y + within.height),
    most((a) => a.y + a.height),
  );
  return right > x && bottom > y ? { x, y, width: right - x, height: bottom - y } : undefined;
}

const sameArea = (a: Area | undefined, b: Area | undefined) =>
  a?.x === b?.x && a?.y === b?.y && a?.width === b?.width && a?.height === b?.height;

interface Colors {
  bar: string;
  back: string;
  line: string;
  mark: string;
  over: string;
}

interface Known extends Painted {
  seen: boolean;
  /** Where it was drawn, in pixels of the canvas. */
  area?: Area;
  drawn?: Geometry;
  colors?: Colors;
}

/** One canvas over a part of the page, for all meters in it: a canvas a meter would be a layer a meter, which costs the
 *  browser more than all that is drawn. It covers what is in sight of its meters and lets the pointer through. */
export class Surface {
  private readonly known = new Map<Element, Known>();
  private readonly sight: IntersectionObserver;
  private readonly context: CanvasRenderingContext2D | null;
  /** What the canvas covers, in pixels of its host. */
  private covers: Area | undefined;
  /** Everything is drawn anew. */
  private stale = true;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly placeOf: (gain: number) => number,
    private readonly changed: () => void,
  ) {
    this.context = canvas.getContext('2d');
    this.sight = new IntersectionObserver((entries) => {
      for (const { target, isIntersecting } of entries) {
        const meter = this.known.get(target);
        if (meter) meter.seen = isIntersecting;
      }
      this.redraw();
    });
  }

  /** Draws a meter from now on; gives what ends that. */
  add(painted: Painted): () => void {
    const { place } = painted;
    this.known.set(place, { ...painted, seen: false });
    this.sight.observe(place);
    return () => {
      this.sight.unobserve(place);
      this.known.delete(place);
      this.redraw();
    };
  }

  /** All is drawn anew with the next picture. */
  redraw(): void {
    this.stale = true;
    this.changed();
  }

  /** Colours are read again. */
  recolor(): void {
    for (const meter of this.known.values()) delete meter.colors;
    this.redraw();
  }

  /** Draws what changed. */
  draw(): void {
    const host = this.canvas.parentElement?.getBoundingClientRect();
    if (!host || !this.context) return;
    const seen = [...this.known.values()].filter((m) => m.seen);
    const places = seen.map((m) => {
      const { x, y, width, height } = m.place.getBoundingClientRect();
      return { x: x - host.x, y: y - host.y, width, height };
    });
    const covers = around(places, { x: 0, y: 0, width: host.width, height: host.height });
    const scale = devicePixelRatio;
    if (!sameArea(covers, this.covers)) {
      this.covers = covers;
      this.stale = true;
      const { style } = this.canvas;
      style.display = covers ? 'block' : 'none';
      if (covers) {
        [this.canvas.width, this.canvas.height] = [
          Math.round(covers.width * scale),
          Math.round(covers.height * scale),
        ];
        style.left = `${covers.x}px`;
        style.top = `${covers.y}px`;
        style.width = `${covers.width}px`;
        style.height = `${covers.height}px`;
      }
    }
    if (!covers) return;
    const areas = places.map(({ x, y, width, height }) => ({
      x: Math.round((x - covers.x) * scale),
      y: Math.round((y - covers.y) * scale),
      width: Math.round(width * scale),
      height: Math.round(height * scale),
    }));
    // What stood in a place that is another's now must go first.
    this.stale ||= seen.some((meter, n) => !sameArea(meter.area, areas[n]));
    if (this.stale) this.context.clearRect(0, 0, this.canvas.width, this.canvas.height);
    for (const [n, meter] of seen.entries()) {
      const area = areas[n];
      const found = area && geometry(meter.read(), area.width, this.placeOf);
      if (!found || (!this.stale && same(meter.drawn, found))) continue;
      [meter.area, meter.drawn] = [area, found];
      meter.colors ??= colorsOf(meter.place);
      drawMeter(this.context, area, found, meter.colors, this.mark(meter, area.width));
    }
    this.stale = false;
  }

  /** Where the level to reach stands. */
  private mark({ target }: Painted, width: number): number | undefined {
    return target === undefined ? undefined : Math.round(this.placeOf(10 ** (target / 20)) * width);
  }

  close(): void {
    this.sight.disconnect();
    this.known.clear();
  }
}

function drawMeter(
  context: CanvasRenderingContext2D,
  { x: left, y: top, width, height }: Area,
  { rms, peak, held, over }: Geometry,
  colors: Colors,
  mark: number | undefined,
): void {
  const unit = height / 12;
  const fill = (color: string, x: number, y: number, w: number, h: number) => {
    context.fillStyle = color;
    context.fillRect(left + x, top + y, w, h);
  };
  context.clearRect(left, top, width + 2 * unit, height);
  fill(colors.back, 0, 2 * unit, width, 8 * unit);
  fill(colors.bar, 0, 5 * unit, peak, 2 * unit);
  fill(colors.bar, 0, 2 * unit, rms, 8 * unit);
  if (held >= 0) fill(colors.bar, Math.min(held, width - 2 * unit), 0, 2 * unit, height);
  if (mark !== undefined)
    for (let y = 0; y < 12; y += 4) fill(colors.mark, mark, y * unit, 2 * unit, 2 * unit);
  // Full scale.
  fill(colors.line, Math.round((60 / 66) * width), 2 * unit, Math.max(1, Math.round(unit)), 8 * unit);
  // The overload light: it stays until peaks are cleared.
  if (over) fill(colors.over, width - 6 * unit, 0, 6 * unit, height);
}

/** How long little is drawn after sound broke, and the pause between two pictures then. */
const EASED_MS = 2000;
const SELDOM_MS = 100;

/** All surfaces of the page, drawn together, once a picture. */
export class Painter {
  private readonly surfaces = new Set<Surface>();
  private waiting = false;
  private easedUntil = 0;
  private readonly looks = matchMedia('(prefers-color-scheme: dark)');

  constructor(private readonly placeOf: (gain: number) => number) {
    this.looks.addEventListener('change', () => {
      for (const surface of this.surfaces) surface.recolor();
    });
    // What scrolls or changes its size takes meters along.
    for (const event of ['scroll', 'resize'])
      addEventListener(event, () => this.changed(), { capture: true, passive: true });
  }

  /** A canvas to draw meters on; `end` lets go of it. */
  surface(canvas: HTMLCanvasElement): { surface: Surface; end: () => void } {
    const surface = new Surface(canvas, this.placeOf, () => this.changed());
    this.surfaces.add(surface);
    return {
      surface,
      end: () => {
        this.surfaces.delete(surface);
        surface.close();
      },
    };
  }

  /** Sound broke: for a while, little is drawn. */
  ease(): void {
    this.easedUntil = performance.now() + EASED_MS;
  }

  /** Levels or places changed: they are drawn with the next picture, or a little later where something else comes first. */
  changed(): void {
    if (this.waiting || this.surfaces.size === 0) return;
    this.waiting = true;
    const draw = () =>
      requestAnimationFrame(() => {
        this.waiting = false;
        for (const surface of this.surfaces) surface.draw();
      });
    if (performance.now() < this.easedUntil) setTimeout(draw, SELDOM_MS);
    else draw();
  }
}

function colorsOf(place: HTMLElement): Colors {
  const style = getComputedStyle(place);
  const named = (name: string) => style.getPropertyValue(name).trim();
  return {
    bar: style.color,
    back: named('--line'),
    line: named('--third'),
    mark: named('--second'),
    over: named('--wrong'),
  };
}
