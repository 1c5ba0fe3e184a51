import { render, screen } from '@testing-library/react';
import { expect, it } from 'vitest';
import type { PlanLine } from '../api/client';
import { scales, steps } from './SeatForecastChart';
import { SeatBar, parts, seatBarText } from './SeatBar';
import { termWords } from './words';

const plan = (more: Partial<PlanLine> = {}): PlanLine => ({
  id: 'desk',
  name: 'Desk plan',
  term: 'running',
  components: [],
  kinds: [],
  note: '',
  seats: 10,
  held: 8,
  free: 2,
  waiting: 0,
  lowest: 10,
  claimants: 8,
  rules: 1,
  steps: [],
  ...more,
});

it('lies to scale: held, free and waiting add up to the whole strip', () => {
  const p = parts(plan({ held: 10, free: 0, waiting: 10, claimants: 20 }));
  expect([p.held, p.free, p.waiting]).toEqual([50, 0, 50]);
  const coming = parts(plan({ steps: [{ at: '2026-12-02T07:00:00Z', seats: 20 }] }));
  expect([coming.held, coming.free, coming.seats, coming.peak]).toEqual([40, 10, 50, 100]);
});

it('keeps its measure with no seats, with one, and with a million', () => {
  expect(parts(plan({ seats: 0, held: 0, free: 0, lowest: 0, claimants: 0 })).held).toBe(0);
  expect(parts(plan({ seats: 1, held: 1, free: 0, lowest: 1, claimants: 1 })).held).toBe(100);
  const large = parts(plan({ seats: 900_000, held: 899_999, free: 1, lowest: 900_000, claimants: 899_999 }));
  expect(large.held + large.free).toBeCloseTo(100);
});

it('hatches the seats that end within twelve weeks', () => {
  expect(parts(plan({ lowest: 5, steps: [{ at: '2026-12-02T07:00:00Z', seats: 5 }] })).ending).toBe(50);
});

it('says in words what it shows', () => {
  expect(seatBarText(plan(), 'UTC')).toBe('8 of 10 seats held, 2 free');
  const full = plan({
    held: 10,
    free: 0,
    waiting: 1,
    claimants: 11,
    steps: [{ at: '2026-12-02T07:00:00Z', seats: 12 }],
  });
  expect(seatBarText(full, 'UTC')).toBe('all 10 seats held, 1 waiting, 2 more from 2 Dec');
  render(<SeatBar plan={full} zone="UTC" />);
  expect(screen.getByRole('img')).toHaveAccessibleName('all 10 seats held, 1 waiting, 2 more from 2 Dec');
});

it('says how a term stands', () => {
  expect(termWords({ term: 'over', ends: '2026-07-01T00:00:00Z' }, 'UTC')).toMatch(/^expired Wed 1 Jul/);
  expect(termWords({ term: 'running' }, 'UTC')).toBe('');
});

it('draws the coming weeks as a line that steps where something changes', () => {
  const point = (at: string, seats: number) => ({ at, seats, held: 1, waiting: 0, carries: true, why: [] });
  const course = [point('2026-11-25T00:00:00Z', 5), point('2027-01-06T00:00:00Z', 10)];
  expect(scales(course).x(Date.parse('2027-01-06T00:00:00Z'))).toBe(360);
  expect(steps(course, (p) => p.seats)).toBe('M0.0 43.0H360.0V10.0H720');
});
