import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { PageFault } from '$lib/api/types';
import { Faults } from './faults.svelte';

let told: PageFault[] = [];
let page = new EventTarget();
let faults = new Faults();
const throws = (name: string, fields: object) => page.dispatchEvent(Object.assign(new Event(name), fields));

beforeEach(() => {
  vi.stubGlobal('location', { pathname: '/sessions/a' });
  [told, page] = [[], new EventTarget()];
  faults = new Faults((fault) => {
    told.push(fault);
    return Promise.reject(new Error('no network'));
  });
  return faults.watch(page);
});

describe('what nobody caught', () => {
  test('is told and sent to the log, the first of it alone', () => {
    throws('error', { error: new TypeError('rows is not a function'), filename: 'rows.js', lineno: 7 });
    throws('unhandledrejection', { reason: new Error('later') });
    expect(faults.first).toBe('TypeError: rows is not a function');
    expect(told).toHaveLength(1);
    expect(told[0]?.whereabouts).toContain('/sessions/a rows.js:7');
  });

  test('is heard of promises too', () => {
    throws('unhandledrejection', { reason: 'nothing left' });
    expect(faults.first).toBe('nothing left');
  });

  test.each([
    ['what browsers say of layout', 'error', { message: 'ResizeObserver loop completed' }],
    [
      'what was called off',
      'unhandledrejection',
      { reason: Object.assign(new Error('x'), { name: 'AbortError' }) },
    ],
  ])('is no fault where it is %s', (_, name, fields) => {
    throws(name, fields);
    expect(faults.first).toBeUndefined();
    expect(told).toEqual([]);
  });
});
