import { expect, it } from 'vitest';
import { DAY, lanes } from './laneLayout';
import type { ReleaseLine, RingLine } from './queries';

const ring = (id: string): RingLine => ({
  id,
  name: id,
  asksConsent: true,
  may: 1,
  did: 1,
  rooms: 0,
  asked: 0,
  declined: 0,
  devices: [],
  terms: null,
  policies: [],
});
const at = (day: number) => new Date(day * DAY).toISOString();
const release = (title: string, openings: [string, number, boolean?][]): ReleaseLine =>
  ({
    setting: title,
    title,
    openings: openings.map(([r, day, planned]) => ({ ring: r, at: at(day), planned: planned ?? false })),
  }) as never;
const RINGS = [ring('in'), ring('out')];

it('lets a release leave a lane when it opens further out', () => {
  const [inner, outer] = lanes(
    RINGS,
    [
      release('Captions', [
        ['in', 10],
        ['out', 20, true],
      ]),
    ],
    { start: 0, end: 30 * DAY, now: 15 * DAY },
    0,
  );
  expect(inner?.stretches[0]).toMatchObject({ from: 10 * DAY, until: 20 * DAY, planned: false });
  expect(outer?.stretches[0]).toMatchObject({ from: 20 * DAY, until: undefined, planned: true });
});

it('keeps a release in its lane when the day on which it was planned to move has passed', () => {
  const late = release('Late', [
    ['in', 5],
    ['out', 14, true],
  ]);
  const [inner] = lanes(RINGS, [late], { start: 0, end: 30 * DAY, now: 15 * DAY }, 0);
  expect(inner?.stretches[0]?.until).toBeUndefined();
});

it('leaves out what ended before the span, comes after it, or was never seen in a ring', () => {
  const gone = release('Gone', [
    ['in', 1],
    ['out', 5],
  ]);
  const later = release('Later', [['in', 40]]);
  const passed = release('Passed by', [
    ['in', 15],
    ['out', 12],
  ]);
  const [inner, outer] = lanes(RINGS, [gone, later, passed], { start: 10 * DAY, end: 30 * DAY, now: 15 * DAY }, 0);
  expect(inner?.stretches).toEqual([]);
  expect(outer?.stretches.map((s) => s.release.title)).toEqual(['Gone', 'Passed by']);
});

it('packs stretches into rows so that none lies over another, names included', () => {
  const releases = Array.from({ length: 40 }, (_, i) =>
    release(`R${i}`, [['in', (i * 7) % 25], ...(i % 3 === 0 ? [['out', ((i * 7) % 25) + 4] as [string, number]] : [])]),
  );
  for (const lane of lanes(RINGS, releases, { start: 0, end: 30 * DAY, now: 15 * DAY }, 3 * DAY))
    for (let row = 0; row < lane.rows; row++) {
      const here = lane.stretches.filter((s) => s.row === row);
      here.slice(1).forEach((s, i) => {
        const before = here[i];
        expect(s.from).toBeGreaterThanOrEqual(Math.max(before?.until ?? 30 * DAY, (before?.from ?? 0) + 3 * DAY));
      });
    }
});
