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
  canvas: HTMLCanvasElement;
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

interface Known extends Painted {
  context: CanvasRenderingContext2D | null;
  seen: boolean;
  drawn?: Geometry;
  colors?: { bar: string; back: string; line: string; mark: string; over: string };
}

export class Painter {
  private readonly known = new Map<Element, Known>();
  private readonly sight: IntersectionObserver;
  private readonly sizes: ResizeObserver;
  private waiting = false;
  private readonly looks = matchMedia('(prefers-color-scheme: dark)');

  constructor(private readonly placeOf: (gain: number) => number) {
    this.sight = new IntersectionObserver((entries) => {
      for (const { target, isIntersecting } of entries) {
        const meter = this.known.get(target);
        if (meter) meter.seen = isIntersecting;
      }
      this.changed();
    });
    this.sizes = new ResizeObserver((entries) => {
      for (const { target, contentRect } of entries) this.size(target, contentRect);
      this.changed();
    });
    this.looks.addEventListener('change', this.recolor);
  }

  /** Colours are read again. */
  private readonly recolor = () => {
    for (const meter of this.known.values()) {
      delete meter.colors;
      delete meter.drawn;
    }
    this.changed();
  };

  private size(target: Element, { width, height }: { width: number; height: number }): void {
    const meter = this.known.get(target);
    if (!meter) return;
    const scale = devicePixelRatio;
    meter.canvas.width = Math.round(width * scale);
    meter.canvas.height = Math.round(height * scale);
    delete meter.drawn;
  }

  /** Draws a meter from now on; gives what ends that. */
  add(painted: Painted): () => void {
    const { canvas } = painted;
    this.known.set(canvas, { ...painted, context: canvas.getContext('2d'), seen: true });
    this.sight.observe(canvas);
    this.sizes.observe(canvas);
    return () => {
      this.sight.unobserve(canvas);
      this.sizes.unobserve(canvas);
      this.known.delete(canvas);
    };
  }

  /** Levels changed: they are drawn with the next picture. */
  changed(): void {
    if (this.waiting || this.known.size === 0) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      for (const meter of this.known.values()) if (meter.seen) this.draw(meter);
    });
  }

  private draw(meter: Known): void {
    const { context, canvas } = meter;
    if (!context || canvas.width === 0) return;
    const { width, height } = canvas;
    const found = geometry(meter.read(), width, this.placeOf);
    if (same(meter.drawn, found)) return;
    meter.drawn = found;
    meter.colors ??= colorsOf(canvas);
    const { bar, back, line, mark, over } = meter.colors;
    const unit = height / 12;
    const fill = (color: string, x: number, y: number, w: number, h: number) => {
      context.fillStyle = color;
      context.fillRect(x, y, w, h);
    };
    context.clearRect(0, 0, width, height);
    fill(back, 0, 2 * unit, width, 8 * unit);
    fill(bar, 0, 5 * unit, found.peak, 2 * unit);
    fill(bar, 0, 2 * unit, found.rms, 8 * unit);
    if (found.held >= 0) fill(bar, found.held, 0, 2 * unit, height);
    if (meter.target !== undefined) {
      const at = Math.round(this.placeOf(10 ** (meter.target / 20)) * width);
      for (let y = 0; y < 12; y += 4) fill(mark, at, y * unit, 2 * unit, 2 * unit);
    }
    // Full scale.
    fill(line, Math.round((60 / 66) * width), 2 * unit, Math.max(1, Math.round(unit)), 8 * unit);
    // The overload light: it stays until peaks are cleared.
    if (found.over) fill(over, width - 6 * unit, 0, 6 * unit, height);
  }

  close(): void {
    this.sight.disconnect();
    this.sizes.disconnect();
    this.looks.removeEventListener('change', this.recolor);
  }
}

function colorsOf(canvas: HTMLCanvasElement): NonNullable<Known['colors']> {
  const style = getComputedStyle(canvas);
  const named = (name: string) => style.getPropertyValue(name).trim();
  return {
    bar: style.color,
    back: named('--line'),
    line: named('--third'),
    mark: named('--second'),
    over: named('--wrong'),
  };
}
