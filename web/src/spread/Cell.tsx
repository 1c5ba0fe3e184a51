import { clsx } from 'clsx';
import { memo } from 'react';
import type { SpreadCell } from '../api/client';
import { RungMark, StandingMark } from '../marks/RungMark';

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

/** One cell: a value with the rung it comes from, or the shares of several as a bar with the largest told. */
export const Cell = memo(function Cell({ cell, standsOn }: { cell: SpreadCell; standsOn: boolean }) {
  const [largest] = cell.shares;
  const total = cell.shares.reduce((n, s) => n + s.accounts, 0);
  const uniform = cell.shares.length === 1;
  return (
    <span
      className={clsx(
        'relative flex h-full w-full items-center gap-1.5 overflow-hidden px-2',
        standsOn && 'outline-line2 bg-well group-focus/matrix:outline-decide outline-2 -outline-offset-2',
        cell.drafted && 'text-draft font-semibold',
      )}
    >
      {!largest ? (
        <span className="text-ink2">—</span>
      ) : uniform ? (
        <>
          {cell.rung && <RungMark rung={cell.rung} />}
          <span className={clsx('truncate', cell.standing === 'builtin' && !cell.drafted && 'text-ink2')}>
            {largest.value}
          </span>
          {cell.standing && cell.standing !== 'set' && cell.standing !== 'builtin' && (
            <StandingMark standing={cell.standing} />
          )}
        </>
      ) : (
        <>
          <span
            className="absolute inset-x-2 bottom-[3px] h-[5px] rounded-sm"
            style={{ background: bar(cell.shares, total) }}
            aria-hidden
          />
          <span className="truncate pb-1.5 text-[13px]">{largest.value}</span>
          <span className="text-ink2 ml-auto shrink-0 pb-1.5 text-[13px]">
            {largest.accounts.toLocaleString('en-GB')}
            <span className="sr-only"> of {total}</span>
            <span aria-hidden>/{total.toLocaleString('en-GB')}</span>
          </span>
        </>
      )}
    </span>
  );
});
