import type { Height, Standing } from '../api/client';

const HEIGHTS: Height[] = ['builtin', 'organisation', 'unit', 'group', 'workspace', 'person'];

const y = (place: number) => 17.5 - place * 3;

/** For each place the five other rungs, as one path: there are thousands of these marks on a page. */
const FAINT = HEIGHTS.map((_, place) =>
  HEIGHTS.flatMap((_other, i) => (i === place ? [] : [`M3 ${y(i)}h9.4`])).join(''),
);

/** A tiny ladder of six fixed places, the deciding one heavy: from what height a value comes. */
export function RungMark({ rung }: { rung: Height }) {
  const place = HEIGHTS.indexOf(rung);
  const label = rung === 'builtin' ? 'built-in' : `from the ${rung} rung`;
  return (
    <svg width="15" height="20" viewBox="0 0 15 20" role="img" aria-label={label} className="shrink-0">
      <title>{label}</title>
      <path d="M2.5 19.5 3.5.5M11.5 19.5 12.5.5" stroke="var(--ink2)" strokeWidth="1" fill="none" />
      <path d={FAINT[place]} stroke="var(--line2)" strokeWidth="1" />
      <path d={`M1.5 ${y(place)}h12.6`} stroke="var(--decide)" strokeWidth="3" />
    </svg>
  );
}

const STANDINGS: Record<Standing, { label: string; path: string; fill?: boolean }> = {
  blocked: { label: 'blocked by a gate', path: 'M2 2h10v10H2zM5 2v10M9 2v10' },
  capped: { label: 'capped', path: 'M1 3h12M7 12V6M4 8.5 7 5.5l3 3' },
  locked: { label: 'locked', path: 'M3 1v12M11 1v12M.5 7h13' },
  set: { label: 'set by a policy', path: 'M7 4a3 3 0 1 1 0 6 3 3 0 0 1 0-6', fill: true },
  builtin: { label: 'built-in', path: 'M7 5a2 2 0 1 1 0 4 2 2 0 0 1 0-4' },
};

/** The standing of an outcome as a shape of its own. */
export function StandingMark({ standing }: { standing: Standing }) {
  const { label, path, fill } = STANDINGS[standing];
  const strong = standing === 'blocked' || standing === 'capped' || standing === 'locked';
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" role="img" aria-label={label} className="shrink-0">
      <title>{label}</title>
      <path
        d={path}
        fill={fill ? 'var(--ink2)' : 'none'}
        stroke={standing === 'blocked' ? 'var(--shut)' : strong ? 'var(--ink)' : 'var(--ink2)'}
        strokeWidth={strong ? 1.8 : 1.2}
      />
    </svg>
  );
}
