/** Hearing one band alone while something is held; the bands as they are stay in sight. */
import type { Band, BandInfo, Param } from '$lib/api/types';
import { alone, type EqualiserSettings } from './bands';

export class HeardBand {
  private state = $state.raw<{ at: number; bands: Band[] }>();

  constructor(
    private readonly settings: () => EqualiserSettings,
    private readonly info: () => BandInfo,
    private readonly ontry: (to: EqualiserSettings) => void,
    private readonly oncancel: () => void,
  ) {}

  /** Which band is heard alone. */
  get at(): number | undefined {
    return this.state?.at;
  }

  /** The bands as they are, whatever is heard. */
  get bands(): Band[] {
    return this.state?.bands ?? this.settings().bands;
  }

  /** Begins with a band, or ends. */
  hear = (at: number | undefined): void => {
    if (at === undefined) {
      if (this.state === undefined) return;
      this.state = undefined;
      this.oncancel();
      return;
    }
    const { bands } = this.settings();
    const band = bands[at];
    const { default: rest, params } = this.info();
    const freq = params.find((p) => p.name === 'freq_hz') as Param;
    if (!band || this.state) return;
    this.state = { at, bands };
    this.ontry(alone(band, rest, freq));
  };
}
