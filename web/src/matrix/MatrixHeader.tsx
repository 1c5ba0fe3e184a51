import { clsx } from 'clsx';
import type { VirtualItem } from '@tanstack/react-virtual';
import type { Setting } from '../api/client';
import { COLUMN } from './Cell';
import { HEAD } from './MatrixRow';

/** The height of the line of titles. */
export const TOP = 40;

/** The titles of the columns in sight. */
export function MatrixHeader(props: {
  settings: Setting[];
  inSight: VirtualItem[];
  width: number;
  rows: 'units' | 'groups';
  /** The column that one stands on. */
  column: number;
}) {
  return (
    <div
      role="row"
      className="bg-paper border-line2 sticky top-0 z-20 border-b"
      style={{ width: props.width, height: TOP }}
    >
      <span
        role="columnheader"
        className="bg-paper sticky left-0 z-10 flex items-end px-5 pb-1.5 font-semibold"
        style={{ width: HEAD, height: TOP - 1 }}
      >
        {props.rows === 'groups' ? 'Group' : 'Unit'}
      </span>
      {props.inSight.map((column) => {
        const one = props.settings[column.index];
        return (
          <span
            key={column.key}
            role="columnheader"
            title={one?.help ?? one?.title}
            className={clsx(
              'absolute top-0 flex items-end px-2 pb-1 text-[13px] leading-[15px]',
              column.index === props.column ? 'font-semibold' : 'text-ink2',
            )}
            style={{ left: column.start, width: COLUMN, height: TOP }}
          >
            <span className="line-clamp-2">{one?.title}</span>
          </span>
        );
      })}
    </div>
  );
}
