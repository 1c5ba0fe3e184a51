import { clsx } from 'clsx';
import { memo } from 'react';
import type { MatrixRowData } from '../api/client';
import { count, formatNumber } from '../text/words';
import { cellProps, isLong } from './Cell';

/** Heights and widths of the matrix in px: of a row, of the heads at the left. */
export const ROW = 30;
export const HEAD = 272;

/** What typing into the cell stood on does. */
export interface Typing {
  change: (text: string) => void;
  /** @param keep whether what was typed is staged; otherwise it is given up */
  done: (keep: boolean) => void;
}

interface RowProps {
  index: number;
  row?: MatrixRowData;
  /** The column of the row's first cell. */
  firstColumn: number;
  columns: { index: number; left: number }[];
  /** The column stood on, where this is the row stood on. */
  standsOn?: number;
  /** What is typed into the cell stood on. */
  text?: string;
  typing: Typing;
}

export const MatrixRow = memo(function MatrixRow(
  props: RowProps & { top: number; width: number; onTurn: (row: MatrixRowData | undefined) => void },
) {
  const { index, row, standsOn, top, width, onTurn, ...rest } = props;
  const [first] = props.columns;
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className={clsx('border-line absolute left-0 flex border-b', standsOn !== undefined && 'bg-paper')}
      style={{ top, height: ROW, width, contain: 'layout size style', visibility: row ? undefined : 'hidden' }}
    >
      {/* Where the columns in sight begin; what can be seen of the head stands in the pane at the left. */}
      <span
        role="rowheader"
        className="flex-none"
        style={{ width: first?.left }}
        aria-label={row && (row.kind === 'account' ? row.name : `${row.name}, ${count(row.accounts, 'account')}`)}
      >
        {row?.openable && <button tabIndex={-1} aria-label={row.open ? 'Close' : 'Open'} onClick={() => onTurn(row)} />}
      </span>
      <Cells index={index} row={row} standsOn={standsOn} {...rest} />
    </div>
  );
});

/** The cells of a row. While the row has not come yet they stay as they are, out of sight, to be altered rather than made anew. */
const Cells = memo(
  function Cells({ index, row, standsOn, ...props }: RowProps) {
    return props.columns.map((column) => {
      const on = column.index === standsOn;
      const { children, ...look } = cellProps(row?.cells[column.index - props.firstColumn], on);
      return (
        <span
          key={column.index}
          role="gridcell"
          id={on ? `cell-${index}-${column.index}` : undefined}
          aria-colindex={column.index + 2}
          aria-selected={on}
          {...look}
        >
          {on && props.text !== undefined ? <CellInput text={props.text} typing={props.typing} /> : children}
        </span>
      );
    });
  },
  (a, b) => b.row === undefined || (Object.keys(b) as (keyof RowProps)[]).every((name) => Object.is(a[name], b[name])),
);

/** The cell stood on while a value is typed into it; what it comes to, and where it would be said, stands in the strip. */
function CellInput({ text, typing }: { text: string; typing: Typing }) {
  return (
    <input
      autoFocus
      aria-label="Value typed into the cell"
      className="bg-sheet outline-draft absolute inset-0 px-2 outline-2 -outline-offset-2"
      value={text}
      onChange={(e) => typing.change(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === 'Enter' || e.key === 'Escape') {
          e.preventDefault();
          typing.done(e.key === 'Enter');
        }
      }}
    />
  );
}

/** The name of a row, and how many accounts it holds, for the eye and the mouse; the row itself tells them to whoever listens. */
export const RowHead = memo(function RowHead(props: {
  top: number;
  row?: MatrixRowData;
  chosen: boolean;
  onTurn: (row: MatrixRowData | undefined) => void;
}) {
  const { row, chosen } = props;
  const counted = row && row.kind !== 'account' ? formatNumber(row.accounts) : '';
  return (
    <span
      className={clsx(
        'border-line absolute left-0 flex items-center gap-1.5 border-b pr-2',
        chosen && 'bg-paper',
        row?.kind === 'account' && 'text-ink2',
      )}
      style={{
        top: props.top,
        width: HEAD,
        height: ROW,
        paddingLeft: 20 + (row?.depth ?? 0) * 14,
        contain: 'layout size style',
      }}
    >
      {row?.openable ? (
        <button
          tabIndex={-1}
          aria-label={`${row.open ? 'Close' : 'Open'} ${row.name}`}
          className="text-ink2 hover:text-ink -ml-4 grid size-4 place-items-center"
          onClick={() => props.onTurn(row)}
        >
          <svg width="10" height="10" viewBox="0 0 10 10" aria-hidden>
            <path d={row.open ? 'M1 3l4 4 4-4' : 'M3 1l4 4-4 4'} stroke="currentColor" strokeWidth="1.8" fill="none" />
          </svg>
        </button>
      ) : null}
      <span
        className={clsx(
          'min-w-0 whitespace-nowrap',
          row && isLong(row.name + counted, HEAD - 40 - row.depth * 14) && 'truncate',
          row?.kind !== 'account' && row && row.depth < 2 && 'font-semibold',
        )}
        title={row?.name}
      >
        {row ? row.name : '…'}
      </span>
      <span className="text-ink2 ml-auto shrink-0 text-[13px]">{counted}</span>
    </span>
  );
});
