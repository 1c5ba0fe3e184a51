import { expect, it } from 'vitest';
import { day, inDays, instantOf, isPast, formatInstant, wallClock, formatWhen } from './dates';
import { count, joinList } from './words';

it('tells moments as people here read them', () => {
  const now = new Date('2026-11-23T12:00:00Z');
  expect(formatInstant('2026-11-26T14:20:00Z', 'Europe/Lisbon', now)).toBe('Thu 26 Nov, 14:20');
  expect(formatInstant('2027-09-02T23:30:00Z', 'Europe/Lisbon', now)).toBe('Fri 3 Sep 2027, 00:30');
});

it('counts days by the calendar of the zone, not by hours', () => {
  const now = new Date('2026-11-30T00:26:00Z');
  expect(inDays('2026-12-04T23:00:00Z', 'Europe/Lisbon', now)).toBe('in 4 days');
  expect(inDays('2026-12-01T00:10:00Z', 'Europe/Lisbon', now)).toBe('tomorrow');
  expect(inDays('2026-11-30T23:59:00Z', 'Europe/Lisbon', now)).toBe('today');
  expect(inDays('2026-12-04T23:00:00Z', 'Pacific/Auckland', now)).toBe('in 5 days');
});

it('tells days with the year and keeps their parts together', () => {
  expect(day('2023-12-12')).toBe('12\u00a0Dec\u00a02023');
  expect(day('2026-09-01')).toBe('1\u00a0Sep\u00a02026');
});

it('turns the clock of a zone into an instant and back, across summer time', () => {
  for (const wall of ['2026-11-26T14:20', '2026-07-01T00:00', '2026-03-29T03:30', '2026-10-25T12:00'])
    for (const zone of ['Europe/Lisbon', 'UTC', 'Asia/Kolkata', 'America/New_York'])
      expect(wallClock(instantOf(wall, zone) ?? '', zone)).toBe(wall);
  expect(instantOf('2026-07-01T12:00', 'Europe/Lisbon')).toBe('2026-07-01T11:00:00Z');
  expect(instantOf('soon', 'UTC')).toBeUndefined();
});

it('tells past days and instants to come apart, by the day of the zone', () => {
  const now = new Date('2026-11-23T23:30:00Z');
  expect(formatWhen('2026-11-20', 'Europe/Lisbon', now)).toBe('end of Fri 20 Nov');
  expect(formatWhen('2026-11-26T14:20:00Z', 'Europe/Lisbon', now)).toBe('Thu 26 Nov, 14:20');
  expect(isPast('2026-11-22', 'Europe/Lisbon', now)).toBe(true);
  expect(isPast('2026-11-23', 'Europe/Lisbon', now)).toBe(false);
  expect(isPast('2026-11-23', 'Asia/Kolkata', now)).toBe(true);
  expect(isPast('2026-11-23T23:29:59Z', 'UTC', now)).toBe(true);
});

it('counts and lists with the right words', () => {
  expect(count(1, 'account')).toBe('1 account');
  expect(count(1234, 'policy', 'policies')).toBe('1,234 policies');
  expect(joinList([])).toBe('');
  expect(joinList(['a', 'b', 'c'])).toBe('a, b and c');
});
