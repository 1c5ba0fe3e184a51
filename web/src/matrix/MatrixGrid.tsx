import type { Virtualizer } from '@tanstack/react-virtual';
import { useMemo, type KeyboardEvent, type MouseEvent, type RefObject } from 'react';
import type { MatrixRowData, Setting } from '../api/client';
import type { Spot } from './cellMoves';
import { MatrixHeader, TOP } from './MatrixHeader';
import { HEAD, MatrixRow, RowHead, type Typing } from './MatrixRow';
import type { MatrixWindow } from './useMatrixWindow';

type Axis = Virtualizer<HTMLDivElement, Element>;

/** The rows and columns in sight, in a box that scrolls both ways. */
export function MatrixGrid(props: {
  box: RefObject<HTMLDivElement | null>;
  settings: Setting[];
  rows: 'units' | 'groups';
  size: number;
  /** The cell that one stands on. */
  spot: Spot;
  down: Axis;
  across: Axis;
  /** The rows that have been read, by number. */
  held: ReadonlyMap<number, MatrixWindow>;
  /** What is typed into the cell that one stands on. */
  text?: string;
  typing: Typing;
  onTurn: (row: MatrixRowData | undefined) => void;
  onKeyDown: (e: KeyboardEvent<HTMLDivElement>) => void;
  onMouseDown: (e: MouseEvent) => void;
}) {
  const { settings, size, spot, down, across, held } = props;
  const shown = down.getVirtualItems();
  const inSight = across.getVirtualItems();
  // In the order of the elements that they take, so that none of these is moved either; aria-rowindex tells the true order.
  const slot = (item: { index: number }) => item.index % shown.length;
  const placed = [...shown].sort((a, b) => slot(a) - slot(b));
  const columns = useMemo(() => inSight.map((c) => ({ index: c.index, left: c.start })), [inSight]);
  return (
    <div
      ref={props.box}
      role="grid"
      aria-label="The estate by settings"
      aria-rowcount={size + 1}
      aria-colcount={settings.length + 1}
      aria-activedescendant={held.has(spot.row) ? `cell-${spot.row}-${spot.column}` : undefined}
      tabIndex={0}
      className="group/matrix border-line relative min-h-0 flex-1 overflow-auto border-t outline-none"
      onKeyDown={props.onKeyDown}
      onMouseDown={props.onMouseDown}
    >
      <div style={{ height: down.getTotalSize(), width: across.getTotalSize(), position: 'relative' }}>
        <MatrixHeader
          settings={settings}
          inSight={inSight}
          width={across.getTotalSize()}
          rows={props.rows}
          column={spot.column}
        />
        {/* One pane for all heads that stay at the left: a pane for each would cost a layer for each. */}
        <div
          aria-hidden
          className="bg-sheet sticky left-0 z-10"
          style={{ width: HEAD, height: down.getTotalSize() - TOP, contain: 'layout style' }}
        >
          {placed.map((item) => (
            <RowHead
              key={slot(item)}
              top={item.start - TOP}
              row={held.get(item.index)?.row}
              chosen={item.index === spot.row}
              onTurn={props.onTurn}
            />
          ))}
        </div>
        {placed.map((item) => (
          <MatrixRow
            key={slot(item)}
            index={item.index}
            top={item.start}
            width={across.getTotalSize()}
            row={held.get(item.index)?.row}
            firstColumn={held.get(item.index)?.firstColumn ?? 0}
            columns={columns}
            standsOn={item.index === spot.row ? spot.column : undefined}
            text={item.index === spot.row && props.text ? props.text : undefined}
            typing={props.typing}
            onTurn={props.onTurn}
          />
        ))}
      </div>
    </div>
  );
}
