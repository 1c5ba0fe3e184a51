import { expect, it } from 'vitest';
import { nextLook } from './settling';

it('looks again when the next instant has come, and not once all has settled', () => {
  const now = Date.parse('2026-11-25T12:00:00Z');
  expect(nextLook(undefined, now)).toBe(false);
  expect(nextLook({ from: null, until: null }, now)).toBe(false);
  expect(nextLook({ from: '2026-11-25T12:00:05Z', until: '2026-11-25T13:00:00Z' }, now)).toBe(6000);
  expect(nextLook({ from: '2026-11-25T11:00:00Z', until: '2026-11-25T12:01:00Z' }, now)).toBe(61_000);
  expect(nextLook({ from: '2026-11-25T11:00:00Z', until: '2026-11-26T12:00:00Z' }, now)).toBe(600_000);
});
