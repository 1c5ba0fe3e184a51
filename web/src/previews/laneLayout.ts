import type { ReleaseLine, RingLine } from './queries';

export const DAY = 86_400_000;

/** A stretch of time in which a release is open to a ring and to none further out; the last one has no end. */
export interface Stretch {
  release: ReleaseLine;
  from: number;
  until: number | undefined;
  planned: boolean;
  /** Its place below the top of the lane, counted in rows. */
  row: number;
}

/** A ring as it is drawn: what moves through it, packed so that nothing lies over anything. */
export interface Lane {
  ring: RingLine;
  stretches: Stretch[];
  rows: number;
}

/**
 * The lanes of rings from the innermost, each with the stretches that reach into a span of time. A release leaves a lane when it opens
 * further out; a plan whose day has passed moved nothing. Stretches are put, by their beginning, into the first row that is free; a name needs some room beside a short one.
 */
export function lanes(
  rings: RingLine[],
  releases: ReleaseLine[],
  { start, end, now }: { start: number; end: number; now: number },
  nameNeeds: number,
): Lane[] {
  const places = new Map(rings.map((r, i) => [r.id, i]));
  const stretches: Stretch[][] = rings.map(() => []);
  for (const release of releases) {
    const openings = release.openings
      .filter((o) => places.has(o.ring))
      .map((o) => ({ place: places.get(o.ring) ?? 0, at: Date.parse(o.at), planned: o.planned }));
    for (const opening of openings) {
      const further = openings.filter((o) => o.place > opening.place && !(o.planned && o.at <= now)).map((o) => o.at);
      const until = further.length > 0 ? Math.min(...further) : undefined;
      if (opening.at >= end || (until !== undefined && (until <= start || until <= opening.at))) continue;
      stretches[opening.place]?.push({ release, from: opening.at, until, planned: opening.planned, row: 0 });
    }
  }
  return rings.map((ring, i) => {
    const here = (stretches[i] ?? []).sort(
      (a, b) => a.from - b.from || a.release.title.localeCompare(b.release.title, 'en-GB'),
    );
    const free: number[] = [];
    for (const stretch of here) {
      const shown = Math.max(stretch.from, start);
      const busyUntil = Math.max(stretch.until ?? end, shown + nameNeeds);
      const row = free.findIndex((until) => until <= shown);
      stretch.row = row < 0 ? free.length : row;
      free[stretch.row] = busyUntil;
    }
    return { ring, stretches: here, rows: free.length };
  });
}
