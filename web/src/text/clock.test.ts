import { afterEach, expect, it } from 'vitest';
import { syncClock, now } from './clock';
import { inDays } from './dates';
import { parseDay, parseInstant } from './parseDate';

afterEach(() => syncClock(new Date().toISOString()));

it('goes on from what the server’s clock showed, whatever this machine’s shows', () => {
  syncClock('2026-11-25T12:00:00Z');
  expect(Math.abs(Date.parse(now()) - Date.parse('2026-11-25T12:00:00Z'))).toBeLessThan(5000);
  syncClock('2031-01-01T00:00:00Z');
  expect(now().slice(0, 10)).toBe('2031-01-01');
});

it('what is typed and what is told count from the server’s day, whatever this machine thinks', () => {
  syncClock('2031-01-01T12:00:00Z');
  expect(parseDay('tomorrow', 'UTC')).toBe('2031-01-02');
  expect(parseInstant('tomorrow 8:00', 'UTC')).toBe('2031-01-02T08:00:00Z');
  expect(inDays('2031-01-04T12:00:00Z', 'UTC')).toBe('in 3 days');
});
