import { useQueries, useQueryClient, type Query } from '@tanstack/react-query';
import { useMemo } from 'react';
import { answerAs, api, type Schemas, type Spread, type SpreadRow } from '../api/client';

/** Rows that are asked for at once. */
export const PAGE = 40;

export type Asked = Omit<Schemas['SpreadAsked'], 'from' | 'count'>;

/**
 * The rows of the matrix around those in sight, asked for page by page.
 *
 * @param first the first row in sight
 * @param last the last row in sight
 */
export function useWindow(
  asked: Asked,
  query: { draft?: number; workspace?: string; at?: string },
  key: unknown,
  first: number,
  last: number,
) {
  const from = Math.max(0, Math.floor((first - PAGE / 2) / PAGE));
  const to = Math.max(from, Math.floor((last + PAGE / 2) / PAGE));
  const pages = useMemo(() => Array.from({ length: to - from + 1 }, (_, i) => from + i), [from, to]);
  const client = useQueryClient();
  // While the draft moves, rows stay as they were answered last rather than vanish.
  const before = (page: number) =>
    client
      .getQueryCache()
      .findAll({ queryKey: ['spread', asked], predicate: (q) => q.queryKey[4] === page && q.state.data !== undefined })
      .reduce<Query | undefined>((a, b) => (a && a.state.dataUpdatedAt >= b.state.dataUpdatedAt ? a : b), undefined)
      ?.state.data as Spread | undefined;
  const found = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['spread', asked, query, key, page],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        answerAs<Spread>(
          api.POST('/api/v1/spread', {
            params: { query },
            body: { ...asked, from: page * PAGE, count: PAGE },
            signal,
          }),
        ),
      staleTime: 60_000,
      // A page is thousands of cells; holding it against the one before costs more than drawing it.
      structuralSharing: false,
      placeholderData: () => before(page),
    })),
  });
  const rows = new Map<number, SpreadRow>();
  let total: number | undefined;
  let error: Error | undefined;
  found.forEach((one, i) => {
    if (one.error) error = one.error;
    if (!one.data) return;
    total = one.data.total;
    one.data.rows.forEach((row, j) => rows.set((pages[i] ?? 0) * PAGE + j, row));
  });
  return { rows, total, error, pending: found.some((f) => f.isPending) };
}
