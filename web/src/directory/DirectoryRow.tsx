import { clsx } from 'clsx';
import { ViewAs } from '../parts/SuitePage';
import type { columnsOf, Row } from './columns';

/** One row of a list, with its box to tick where rows can be ticked. */
export function DirectoryRow(props: {
  row: Row;
  columns: ReturnType<typeof columnsOf>;
  /** Whether something is open beside the list, which leaves less room. */
  narrow: boolean;
  /** Undefined where rows cannot be ticked. */
  ticked?: boolean;
  onTick: (on: boolean, shift: boolean) => void;
  onOpen: (id: string) => void;
}) {
  const { row, columns } = props;
  return (
    <>
      {props.ticked !== undefined && (
        <input
          type="checkbox"
          aria-label={`Choose ${row.name}`}
          checked={props.ticked}
          onChange={(e) => props.onTick(e.target.checked, (e.nativeEvent as MouseEvent).shiftKey)}
        />
      )}
      {columns.map((c, i) =>
        i === 0 ? (
          <span key={c.title} className="flex min-w-0 items-center gap-2 pr-3">
            <button
              className="truncate text-left font-semibold hover:underline"
              style={{ paddingLeft: (row.depth ?? 0) * 16 }}
              onClick={() => props.onOpen(row.id)}
            >
              {c.of(row)}
            </button>
            {row.active && (
              // Where names would be cut off for it, it waits for the mouse or the key.
              <span
                className={clsx(
                  'shrink-0',
                  props.narrow
                    ? 'hidden group-focus-within:inline group-hover:inline'
                    : 'max-[1279px]:hidden max-[1279px]:group-focus-within:inline max-[1279px]:group-hover:inline',
                )}
              >
                <ViewAs id={row.id} name={row.name} />
              </span>
            )}
          </span>
        ) : (
          <span key={c.title} className={clsx('truncate pr-3', c.right && 'text-right')} title={c.of(row)}>
            {c.of(row)}
          </span>
        ),
      )}
    </>
  );
}
