/** A cell of the matrix, by the numbers of its row and its column. */
export interface Spot {
  row: number;
  column: number;
}

/**
 * Where a key leads from a cell; undefined for a key that does not move.
 *
 * @param size how many rows there are
 * @param columns how many columns there are
 * @param page how many rows a page moves
 */
export function moved(
  key: string,
  ctrl: boolean,
  from: Spot,
  size: number,
  columns: number,
  page: number,
): Spot | undefined {
  switch (key) {
    case 'ArrowDown':
      return { ...from, row: from.row + 1 };
    case 'ArrowUp':
      return { ...from, row: from.row - 1 };
    case 'ArrowLeft':
      return { ...from, column: from.column - 1 };
    case 'ArrowRight':
      return { ...from, column: from.column + 1 };
    case 'PageDown':
      return { ...from, row: from.row + page };
    case 'PageUp':
      return { ...from, row: from.row - page };
    case 'Home':
      return ctrl ? { row: 0, column: 0 } : { ...from, column: 0 };
    case 'End':
      return ctrl ? { row: size - 1, column: columns - 1 } : { ...from, column: columns - 1 };
    default:
      return undefined;
  }
}

/** The cell that an element is in, unless one types in it. */
export function cellOf(element: Element): Spot | undefined {
  const cell = element.closest('[role=gridcell]');
  const row = cell?.closest('[aria-rowindex]')?.getAttribute('aria-rowindex');
  if (!cell || !row || element instanceof HTMLInputElement) return undefined;
  return { row: Number(row) - 2, column: Number(cell.getAttribute('aria-colindex')) - 2 };
}
