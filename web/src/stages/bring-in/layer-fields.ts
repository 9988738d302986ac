/** The values of a layer as fields: what is shown of each, and what it becomes. */
import type { AssetRef, Layer } from '$lib/api/types';
import { range } from '$lib/limits';

export interface LayerField {
  key: string;
  name: string;
  /** What the label calls it; "of layer n" follows. */
  label: string;
  unit: string;
  min: number;
  max: number;
  value: number;
  to: (value: number) => Partial<Layer>;
  digits?: number;
  reset?: number;
  offAt?: number;
}

/** Cents in a semitone. */
const CENTS = 100;

/** The fields that a layer has as it stands. */
export function layerFields(layer: Layer, asset: AssetRef): LayerField[] {
  const ms = (frames: number) => (frames / asset.sample_rate) * 1000;
  const frames = (ms: number) => Math.round((ms / 1000) * asset.sample_rate);
  const length = asset.frames;
  const end = layer.end_frame ?? length;
  const { decay, sweep } = layer;
  const semitones = Math.trunc(layer.tune_ct / CENTS);
  const cents = layer.tune_ct % CENTS;
  const always: LayerField[] = [
    {
      key: 'gain',
      name: 'Gain',
      label: 'Gain',
      unit: 'dB',
      ...range('trim_db'),
      offAt: -100,
      value: layer.gain_db,
      to: (gain_db) => ({ gain_db }),
    },
    {
      key: 'velocity',
      name: 'Velocity',
      label: 'Velocity to gain',
      unit: '%',
      ...range('velocity_percent'),
      digits: 0,
      reset: 100,
      value: layer.velocity_percent,
      to: (velocity_percent) => ({ velocity_percent }),
    },
    {
      key: 'tune',
      name: 'Tune',
      label: 'Semitones',
      unit: 'st',
      min: -48,
      max: 48,
      digits: 0,
      value: semitones,
      to: (st) => ({ tune_ct: Math.round(st) * CENTS + cents }),
    },
    {
      key: 'fine',
      name: 'Fine',
      label: 'Cents',
      unit: 'ct',
      min: 1 - CENTS,
      max: CENTS - 1,
      value: cents,
      to: (ct) => ({ tune_ct: semitones * CENTS + ct }),
    },
    {
      key: 'delay',
      name: 'Delay',
      label: 'Delay',
      unit: 'ms',
      ...range('layer_delay_ms'),
      value: layer.delay_ms,
      to: (delay_ms) => ({ delay_ms }),
    },
    {
      key: 'start',
      name: 'Start',
      label: 'Start',
      unit: 'ms',
      min: 0,
      max: Math.max(0, ms(end - 1)),
      value: ms(layer.start_frame),
      to: (x) => ({ start_frame: Math.min(frames(x), end - 1) }),
    },
    {
      key: 'end',
      name: 'End',
      label: 'End',
      unit: 'ms',
      min: ms(layer.start_frame + 1),
      max: ms(length),
      reset: ms(length),
      value: ms(end),
      to: (x) => ({ end_frame: frames(x) >= length ? null : Math.max(layer.start_frame + 1, frames(x)) }),
    },
    {
      key: 'fade-in',
      name: 'Fade-in',
      label: 'Fade-in',
      unit: 'ms',
      ...range('fade_ms'),
      value: layer.fade_in.ms,
      to: (x) => ({ fade_in: { ...layer.fade_in, ms: x } }),
    },
    {
      key: 'fade-in curve',
      name: 'Curve',
      label: 'Curve of the fade-in',
      unit: '%',
      ...range('curve_percent'),
      digits: 0,
      value: layer.fade_in.curve_percent,
      to: (curve_percent) => ({ fade_in: { ...layer.fade_in, curve_percent } }),
    },
  ];
  const decays: LayerField[] = decay
    ? [
        {
          key: 'hold',
          name: 'Hold',
          label: 'Hold',
          unit: 'ms',
          ...range('hold_ms'),
          value: decay.hold_ms,
          to: (hold_ms) => ({ decay: { ...decay, hold_ms } }),
        },
        {
          key: 'decay',
          name: 'Decay',
          label: 'Decay',
          unit: 'ms',
          ...range('decay_ms'),
          value: decay.ms,
          to: (x) => ({ decay: { ...decay, ms: x } }),
        },
        {
          key: 'decay curve',
          name: 'Curve',
          label: 'Curve of the decay',
          unit: '%',
          ...range('curve_percent'),
          digits: 0,
          value: decay.curve_percent,
          to: (curve_percent) => ({ decay: { ...decay, curve_percent } }),
        },
      ]
    : [];
  const sweeps: LayerField[] = sweep
    ? [
        {
          key: 'sweep',
          name: 'Sweep',
          label: 'Depth of the pitch sweep',
          unit: 'st',
          ...range('sweep_st'),
          value: sweep.depth_st,
          to: (depth_st) => ({ sweep: { ...sweep, depth_st } }),
        },
        {
          key: 'sweep time',
          name: 'Time',
          label: 'Time of the pitch sweep',
          unit: 'ms',
          ...range('sweep_ms'),
          value: sweep.ms,
          to: (x) => ({ sweep: { ...sweep, ms: x } }),
        },
      ]
    : [];
  return [...always, ...decays, ...sweeps];
}

/** What is switched on and off of a layer. */
export function layerSwitches(
  layer: Layer,
  asset: AssetRef,
): { name: string; on: boolean; to: Partial<Layer> }[] {
  const whole = Math.max(1, Math.round((asset.frames / asset.sample_rate) * 1000));
  const decay = { hold_ms: 0, ms: Math.min(range('decay_ms').max, whole), curve_percent: 60 };
  const sweep = { depth_st: 12, ms: 40 };
  return [
    { name: 'Reverse', on: layer.reverse, to: { reverse: !layer.reverse } },
    { name: 'Decay', on: layer.decay !== null, to: { decay: layer.decay ? null : decay } },
    { name: 'Pitch sweep', on: layer.sweep !== null, to: { sweep: layer.sweep ? null : sweep } },
  ];
}
