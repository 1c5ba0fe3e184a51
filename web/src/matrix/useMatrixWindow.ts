import { useQueries, useQueryClient, type Query } from '@tanstack/react-query';
import { useMemo } from 'react';
import { unwrapAs, api, type Schemas, type MatrixView, type MatrixRowData } from '../api/client';

/** Rows that are asked for at once. */
export const PAGE = 40;

/** Columns that are asked for at once, and where a run of them can begin. */
const COLUMNS = 32;
const STEP = 16;

export type MatrixQuery = Omit<Schemas['MatrixQuery'], 'from' | 'count' | 'firstColumn' | 'columns'>;

/** The moment and the place that the cells are of. */
export interface MatrixWhere {
  draft?: number;
  workspace?: string;
  at?: string;
}

/** A row, and the column of its first cell. */
export interface MatrixWindow {
  row: MatrixRowData;
  firstColumn: number;
}

/**
 * The cells of the matrix around those in sight, asked for page by page.
 *
 * @param first the first row in sight
 * @param last the last row in sight
 * @param left the first column in sight
 */
export function useMatrixWindow(
  asked: MatrixQuery,
  query: MatrixWhere,
  key: unknown,
  first: number,
  last: number,
  left: number,
) {
  const firstColumn = Math.max(0, Math.floor((left - STEP / 4) / STEP)) * STEP;
  const from = Math.max(0, Math.floor((first - PAGE / 2) / PAGE));
  const to = Math.max(from, Math.floor((last + PAGE / 2) / PAGE));
  const pages = useMemo(() => Array.from({ length: to - from + 1 }, (_, i) => from + i), [from, to]);
  // One word for each, because keys are read at every turn of the wheel.
  const matrix = useMemo(() => JSON.stringify(asked), [asked]);
  const moment = JSON.stringify([query, key]);
  const client = useQueryClient();
  // While the draft moves, or other columns come, rows stay as they were answered last rather than vanish.
  const before = (page: number) =>
    client
      .getQueryCache()
      .findAll({ queryKey: ['spread', matrix], predicate: (q) => q.queryKey[3] === page && q.state.data !== undefined })
      .reduce<Query | undefined>((a, b) => (a && a.state.dataUpdatedAt >= b.state.dataUpdatedAt ? a : b), undefined)
      ?.state.data as MatrixView | undefined;
  const found = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['spread', matrix, moment, page, firstColumn],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        unwrapAs<MatrixView>(
          api.POST('/api/v1/matrix', {
            params: { query },
            body: { ...asked, from: page * PAGE, count: PAGE, firstColumn, columns: COLUMNS },
            signal,
          }),
        ),
      staleTime: 60_000,
      // A page is thousands of cells; holding it against the one before costs more than drawing it.
      structuralSharing: false,
      placeholderData: () => before(page),
    })),
  });
  const rows = new Map<number, MatrixWindow>();
  let total: number | undefined;
  let error: Error | undefined;
  found.forEach((one, i) => {
    if (one.error) error = one.error;
    if (!one.data) return;
    total = one.data.total;
    const { firstColumn } = one.data;
    one.data.rows.forEach((row, j) => rows.set((pages[i] ?? 0) * PAGE + j, { row, firstColumn }));
  });
  return { rows, total, error, pending: found.some((f) => f.isPending) };
}
