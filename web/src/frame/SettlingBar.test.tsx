import { expect, it } from 'vitest';
import { untilWords } from './SettlingBar';

it('says the time alone on the day that it is, by the clock of the organisation', () => {
  const now = '2026-11-25T12:00:00Z';
  expect(untilWords({ until: '2026-11-25T15:00:00Z' }, now, 'Europe/Lisbon')).toBe('15:00');
  expect(untilWords({ until: '2026-11-26T09:30:00Z' }, now, 'Europe/Lisbon')).toBe('Thu 26 Nov, 09:30');
  // Already tomorrow there.
  expect(untilWords({ until: '2026-11-25T15:30:00Z' }, now, 'Asia/Tokyo')).toBe('Thu 26 Nov, 00:30');
});
