import { clsx } from 'clsx';
import type { CSSProperties, ReactNode } from 'react';
import type { MatrixCellData } from '../api/client';
import { rungWords, standingWords } from '../parts/marks';
import { formatNumber } from '../text/words';

/** The width of a column in px, as the style of a cell has it. */
export const COLUMN = 148;

const SHADES = ['var(--decide)', 'var(--line2)', 'var(--ink2)', 'var(--well)', 'var(--line)'];

/**
 * Thousands of cells are in sight while the matrix is scrolled. So a cell is one element: its marks and its bar are backgrounds, and
 * it cuts off what it says only where that is long, because each element that cuts costs painting a layer of its own.
 */
interface CellProps {
  className: string;
  style?: CSSProperties;
  /** All that the cell tells, for whoever listens; and for the mouse. */
  'aria-label'?: string;
  title?: string;
  children?: ReactNode;
}

/** What a cell says: a value with the rung it comes from, or the shares of several as a bar with the largest told. */
export function cellProps(cell: MatrixCellData | undefined, standsOn: boolean): CellProps {
  const look = (...more: (string | false | undefined)[]) =>
    clsx('cell', ...more, standsOn && 'cell-on', cell?.drafted && 'cell-drafted');
  if (!cell) return { className: look() };
  const [largest] = cell.shares;
  if (!largest) return { className: look('text-ink2'), 'aria-label': 'nobody here', children: '—' };
  const { value } = largest;
  const marked = cell.standing && cell.standing !== 'set' && cell.standing !== 'builtin' ? cell.standing : undefined;
  if (cell.shares.length === 1) {
    const words = [value, cell.rung ? rungWords(cell.rung) : 'from several rungs', marked && standingWords(marked)]
      .filter(Boolean)
      .join(', ');
    return {
      className: look(
        `with-rung rung-${cell.rung ?? 'several'}`,
        marked && `with-standing standing-${marked}`,
        isLong(value, 111 - (marked ? 20 : 0)) && 'truncate',
        cell.standing === 'builtin' && !cell.drafted && 'text-ink2',
      ),
      'aria-label': words,
      title: words,
      children: value,
    };
  }
  const total = cell.shares.reduce((n, share) => n + share.accounts, 0);
  const counted = `${formatNumber(largest.accounts)}/${formatNumber(total)}`;
  return {
    className: look('cell-mixed'),
    style: { backgroundImage: bar(cell.shares, total) },
    'aria-label': `${value} ${counted}`,
    children: (
      <>
        <span className={clsx('min-w-0', isLong(value, 124 - counted.length * 8) && 'truncate')}>{value}</span>
        <span className="text-ink2 ml-auto">{counted}</span>
      </>
    ),
  };
}

/** Whether a text may need more room than this, in px: wide letters are reckoned with, other scripts are always long. */
export const isLong = (text: string, room: number) => text.length * 9 > room || !/^[ -~]*$/.test(text);

/** The shares side by side, as one background. */
function bar(shares: MatrixCellData['shares'], total: number): string {
  let from = 0;
  const stops = shares.map((share, i) => {
    const start = from;
    from += (100 * share.accounts) / total;
    return `${SHADES[i % SHADES.length]} ${start}% ${from}%`;
  });
  return `linear-gradient(to right, ${stops.join(', ')})`;
}
