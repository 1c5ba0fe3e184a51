import { clsx } from 'clsx';
import { memo } from 'react';
import type { SpreadCell } from '../api/client';
import { RungMark, StandingMark } from '../marks/RungMark';
import { figure } from '../text/words';

const SHADES = ['var(--decide)', 'var(--line2)', 'var(--ink2)', 'var(--well)', 'var(--line)'];

/** The shares side by side, as one background: an element for each would cost scrolling its evenness. */
function bar(shares: SpreadCell['shares'], total: number): string {
  let from = 0;
  const stops = shares.map((share, i) => {
    const start = from;
    from += (100 * share.accounts) / total;
    return `${SHADES[i % SHADES.length]} ${start}% ${from}%`;
  });
  return `linear-gradient(to right, ${stops.join(', ')})`;
}

/** How a cell looks around what it says. */
export const cellLook = (cell: SpreadCell | undefined, standsOn: boolean): string =>
  clsx(
    'border-line absolute top-0 flex items-center gap-1.5 overflow-hidden border-l px-2',
    standsOn && 'outline-line2 bg-well group-focus/matrix:outline-decide outline-2 -outline-offset-2',
    cell?.drafted && 'text-draft font-semibold',
  );

/** What a cell says: a value with the rung it comes from, or the shares of several as a bar with the largest told. */
export const Cell = memo(function Cell({ cell }: { cell: SpreadCell }) {
  const [largest] = cell.shares;
  if (!largest) return <span className="text-ink2">—</span>;
  if (cell.shares.length === 1)
    return (
      <>
        {cell.rung && <RungMark rung={cell.rung} />}
        <span className={clsx('truncate', cell.standing === 'builtin' && !cell.drafted && 'text-ink2')}>
          {largest.value}
        </span>
        {cell.standing && cell.standing !== 'set' && cell.standing !== 'builtin' && (
          <StandingMark standing={cell.standing} />
        )}
      </>
    );
  const total = cell.shares.reduce((n, s) => n + s.accounts, 0);
  return (
    <>
      <span
        className="absolute inset-x-2 bottom-[3px] h-[5px] rounded-sm"
        style={{ background: bar(cell.shares, total) }}
        aria-hidden
      />
      <span className="min-w-0 truncate pb-1.5 text-[13px]">{largest.value}</span>
      <span className="text-ink2 ml-auto pb-1.5 text-[13px]">{`${figure(largest.accounts)}/${figure(total)}`}</span>
    </>
  );
});
