import { expect, it } from 'vitest';
import { formatInstant, formatWhen } from './dates';
import { parseDay, parseInstant } from './parseDate';

const ZONE = 'Europe/Lisbon';
const NOW = new Date('2026-11-25T11:40:00Z');

it.each([
  ['26 nov', '2026-11-26T00:00:00Z'],
  ['26 nov 14:20', '2026-11-26T14:20:00Z'],
  ['tomorrow 8:00', '2026-11-26T08:00:00Z'],
  ['in 2 weeks', '2026-12-09T00:00:00Z'],
  ['in 2 hours', '2026-11-25T13:40:00Z'],
  ['3/4', '2027-04-02T23:00:00Z'],
  ['1 july 2027 9:00', '2027-07-01T08:00:00Z'],
  ['2026-12-01 09:30', '2026-12-01T09:30:00Z'],
])('reads "%s" by the clock of the organisation, day first', (text, instant) => {
  expect(parseInstant(text, ZONE, 'future', NOW)).toBe(instant);
});

it('reads back what it shows', () => {
  for (const instant of ['2026-11-26T14:20:00Z', '2027-02-01T00:00:00Z'])
    expect(parseInstant(formatInstant(instant, ZONE, NOW), ZONE, 'future', NOW)).toBe(instant);
  expect(parseDay(formatWhen('2026-11-20', ZONE, NOW).replace('end of ', ''), ZONE, 'past', NOW)).toBe('2026-11-20');
});

it.each([
  ['20 nov', '2026-11-20'],
  ['26 nov', '2025-11-26'],
  ['yesterday', '2026-11-24'],
  ['3 days ago', '2026-11-22'],
  ['2026-02-28', '2026-02-28'],
])('reads the past day "%s"', (text, day) => {
  expect(parseDay(text, ZONE, 'past', NOW)).toBe(day);
});

it.each(['', 'soon', '26 nov or 27 nov', 'the ship', '2026-02-31'])('reads no day in "%s"', (text) => {
  expect(parseDay(text, ZONE, 'past', NOW)).toBeUndefined();
  expect(parseInstant(text, ZONE, 'future', NOW)).toBeUndefined();
});
