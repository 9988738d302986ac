import { describe, expect, test } from 'vitest';
import type { StemPlan, Strip, StripKind } from '$lib/api/types';
import { EMPTY } from '$lib/sync/model';
import { included, tapOf, withStrip, withTap } from './plan';

const plan = EMPTY.stem_plan;
const strip = (kind: StripKind): Strip => ({ ...(EMPTY.strips[0] as Strip), id: 9, kind });
const after = (change: Partial<StemPlan>): StemPlan => ({ ...plan, ...change });

describe('what is tracked out', () => {
  test.each([
    ['channel', true],
    ['return', true],
    ['bus', false],
    ['main', true],
    ['trigger', false],
  ] as const)('a %s, unless somebody says otherwise: %s', (kind, is) => {
    expect(included(plan, strip(kind))).toBe(is);
  });

  test.each(['channel', 'return', 'bus', 'main'] as const)(
    'a %s is put in and left out, and once is enough',
    (kind) => {
      for (const on of [false, true, true, false]) {
        const changed = after(withStrip(plan, strip(kind), on));
        expect(included(changed, strip(kind))).toBe(on);
        const again = after(withStrip(changed, strip(kind), on));
        expect(again).toEqual(changed);
      }
    },
  );

  test('no trigger is ever in a stem', () => {
    expect(included(after(withStrip(plan, strip('trigger'), true)), strip('trigger'))).toBe(false);
  });

  test('one strip leaves the others as they are', () => {
    const others = { ...plan, without: [4, 5], with_buses: [6] };
    expect(withStrip(others, strip('channel'), false)).toEqual({ without: [4, 5, 9] });
    expect(withStrip(others, strip('bus'), true)).toEqual({ with_buses: [6, 9] });
  });
});

describe('where a stem is taken', () => {
  test('is where all are, until it has a place of its own', () => {
    expect(tapOf(plan, strip('channel'))).toBe('channel');
    const own = after(withTap(plan, strip('channel'), 'dry'));
    expect(tapOf(own, strip('channel'))).toBe('dry');
    expect(own.taps).toHaveLength(1);
  });

  test('is said once for each strip', () => {
    const twice = after(withTap(after(withTap(plan, strip('channel'), 'dry')), strip('channel'), 'channel'));
    expect(twice.taps).toEqual([{ strip: 9, tap: 'channel' }]);
  });
});
