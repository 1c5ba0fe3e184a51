import { clsx } from 'clsx';
import type { Review } from '../api/client';
import { formatNumber } from '../text/words';
import { sameImpactFilter, type ImpactFilter } from './impactFilter';

/** What becomes of the accounts of a unit, in the order in which a bar shows it. */
const EFFECTS = [
  ['lose', 'bg-shut', 'lose'],
  ['both', 'bg-ink2', 'gain some and lose some'],
  ['other', 'bg-line2', 'other changes'],
  ['gain', 'bg-decide', 'gain'],
] as const;

type Row = Review['where'][number];

/** A unit whose accounts that change are all in one unit below it stands in one row with that: "MV Heron / Bridge". */
export function joined(where: Row[]): Row[] {
  const rows: Row[] = [];
  const up: number[] = [];
  for (const unit of where) {
    const above = rows.at(-1);
    up.length = unit.depth;
    const depth = unit.depth - up.reduce((n, joins) => n + joins, 0);
    const only =
      above !== undefined &&
      rows.length > 1 &&
      unit.depth > 0 &&
      above.accounts === unit.accounts &&
      depth === above.depth + 1;
    if (only) rows[rows.length - 1] = { ...unit, name: `${above.name} / ${unit.name}`, depth: above.depth };
    else rows.push({ ...unit, depth });
    up.push(only ? 1 : 0);
  }
  return rows;
}

/** Who changes where: the tree of units, each with a bar of those who change, to one scale, leading to them by name. */
export function UnitImpact(props: {
  where: Review['where'];
  chosen?: ImpactFilter;
  onChoose: (part: ImpactFilter) => void;
}) {
  const most = Math.max(1, ...props.where.map((u) => u.accounts));
  if (props.where.length === 0) return null;
  const shown = EFFECTS.filter(([effect]) => props.where.some((u) => u[effect] > 0));
  return (
    <section aria-label="Where" className="mt-5">
      <h2 className="font-display text-[16px] font-semibold">Where</h2>
      <ul className="border-line mt-1 border-t">
        {joined(props.where).map((unit) => {
          const part: ImpactFilter = { title: unit.name, query: { unit: unit.id } };
          return (
            <li key={unit.id} className="border-line border-b">
              <button
                className={clsx(
                  'hover:bg-well block w-full py-1 pr-1 text-left',
                  sameImpactFilter(part, props.chosen) && 'bg-well',
                )}
                style={{ paddingLeft: unit.depth * 14 }}
                aria-label={`${unit.name}: ${formatNumber(unit.accounts)} of ${formatNumber(unit.everyone)}, by name`}
                onClick={() => props.onChoose(part)}
              >
                <span className="flex items-baseline gap-2">
                  <span className={clsx('min-w-0 flex-1 truncate', unit.depth === 0 && 'font-semibold')}>
                    {unit.name}
                  </span>
                  <span>{formatNumber(unit.accounts)}</span>
                  <span className="text-ink2 text-[13px]">of {formatNumber(unit.everyone)}</span>
                </span>
                <span className="mt-0.5 flex h-1.5" style={{ width: `${Math.max(1, (100 * unit.accounts) / most)}%` }}>
                  {EFFECTS.map(([effect, colour]) => (
                    <span
                      key={effect}
                      className={clsx('settles', colour)}
                      style={{ width: `${(100 * unit[effect]) / unit.accounts}%` }}
                    />
                  ))}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      <p className="text-ink2 mt-1.5 flex flex-wrap gap-x-4 text-[13px]">
        {shown.map(([effect, colour, words]) => (
          <span key={effect} className="flex items-center gap-1.5">
            <span className={clsx('inline-block h-1.5 w-4', colour)} aria-hidden />
            {words}
          </span>
        ))}
      </p>
    </section>
  );
}
