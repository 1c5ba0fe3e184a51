import { useQueries } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { useRef, useState } from 'react';
import { unwrapAs, api, type DirectoryList } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { DirectoryFilters, narrowed, type Filters } from './DirectoryFilters';
import { DirectoryRow } from './DirectoryRow';
import { columnsOf, type Row, type Listed } from './columns';

const PAGE = 100;
/** DirectoryRows that are read at once where all of them are wanted. */
const AT_ONCE = 1000;
const ROW = 30;

/** The rows of a list as they come into sight, with their search, their filters and what can be ticked. */
export function DirectoryRows(props: {
  list: Listed;
  filters: Filters;
  id?: string;
  /** Those ticked, by id with their names; nothing can be ticked without. */
  chosen?: Map<string, string>;
  onChoose: (chosen: Map<string, string>) => void;
  onFilter: (filters: Filters) => void;
  onClear: () => void;
  onOpen: (id: string) => void;
  /** A group was made of those listed. */
  onGroup: (group: string) => void;
}) {
  const { list, filters, chosen } = props;
  const after = useAfterDraft();
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState(0);
  /** The row ticked last: with Shift, those up to the next are ticked with it. */
  const [anchor, setAnchor] = useState<number>();
  const virtual = useVirtualizer({
    count: size,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const items = virtual.getVirtualItems();
  const from = Math.floor((items[0]?.index ?? 0) / PAGE);
  const to = Math.floor((items[items.length - 1]?.index ?? 0) / PAGE);
  const pages = Array.from({ length: to - from + 1 }, (_, i) => from + i);
  const found = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['directory', list.name, filters, after.key, page],
      queryFn: () =>
        unwrapAs<DirectoryList>(
          api.GET('/api/v1/directory/{list}', {
            params: {
              path: { list: list.name },
              query: { ...filters, ...after.query, from: page === 0 ? undefined : page * PAGE, count: PAGE },
            },
          }),
        ),
      placeholderData: (before: DirectoryList | undefined) => before,
    })),
  });
  const rows = new Map<number, Row>();
  found.forEach((f, i) => f.data?.rows.forEach((row, j) => rows.set((pages[i] ?? 0) * PAGE + j, row)));
  const total = found[0]?.data?.total ?? size;
  if (total !== size) setSize(total);
  const error = found.find((f) => f.error)?.error;
  const columns = columnsOf(list.name);
  const csv = new URLSearchParams({ format: 'csv' });
  for (const [key, value] of Object.entries({ ...filters, ...after.query }))
    if (value !== undefined) csv.set(key, String(value));
  /** The rows between two, those too that are not drawn. */
  const range = async (first: number, last: number): Promise<Row[]> => {
    const all: Row[] = [];
    while (all.length <= last - first) {
      const page = await unwrapAs<DirectoryList>(
        api.GET('/api/v1/directory/{list}', {
          params: {
            path: { list: list.name },
            query: {
              ...filters,
              ...after.query,
              from: first + all.length || undefined,
              count: Math.min(AT_ONCE, last - first + 1 - all.length),
            },
          },
        }),
      );
      if (page.rows.length === 0) break;
      all.push(...page.rows);
    }
    return all;
  };
  const tickAll = async () => props.onChoose(new Map((await range(0, total - 1)).map((row) => [row.id, row.name])));
  const tick = async (row: Row, index: number, on: boolean, shift: boolean) => {
    const next = new Map(chosen);
    const from = shift && anchor !== undefined ? Math.min(anchor, index) : index;
    const rowsBetween = from === index && !shift ? [row] : await range(from, Math.max(anchor ?? index, index));
    for (const one of rowsBetween)
      if (on) next.set(one.id, one.name);
      else next.delete(one.id);
    setAnchor(index);
    props.onChoose(next);
  };
  if (error) return <ErrorNotice error={error} />;
  return (
    <>
      <DirectoryFilters
        list={list}
        filters={filters}
        total={found[0]?.isPending ? undefined : total}
        ticks={chosen !== undefined}
        file={`/api/v1/directory/${list.name}?${csv.toString()}`}
        onFilter={props.onFilter}
        onClear={props.onClear}
        onTickAll={() => void tickAll()}
        all={async () => (await range(0, total - 1)).map((row) => row.id)}
        onGroup={props.onGroup}
      />
      <div className="flex min-h-0 flex-1 flex-col overflow-x-auto">
        <div className="flex min-h-0 min-w-[760px] flex-1 flex-col">
          <div
            className="text-ink2 border-line2 grid border-b px-5 pb-1 text-[13px]"
            style={{ gridTemplateColumns: template(columns, chosen !== undefined) }}
          >
            {chosen && <span />}
            {columns.map((c) =>
              c.sort ? (
                <button
                  key={c.title}
                  className={clsx('pr-3', c.right ? 'text-right' : 'text-left')}
                  aria-label={`Sort by ${c.title}`}
                  onClick={() => props.onFilter({ ...filters, sort: c.sort as 'name' })}
                >
                  {c.title}
                  {(filters.sort ?? 'name') === c.sort && ' ▾'}
                </button>
              ) : (
                <span key={c.title} className={clsx('pr-3', c.right && 'text-right')}>
                  {c.title}
                </span>
              ),
            )}
          </div>
          {total === 0 && !found[0]?.isPending ? (
            <p className="px-5 py-3">
              {narrowed(filters).length > 0
                ? 'Nothing here fits.'
                : `There is no ${list.one} yet. Make one${list.name === 'workspaces' || list.name === 'hostings' ? '.' : ', or read them from a file.'}`}
            </p>
          ) : (
            <div ref={box} className="min-h-0 flex-1 overflow-y-auto" role="list" aria-label={list.title} tabIndex={0}>
              <div role="presentation" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
                {items.map((item) => {
                  const row = rows.get(item.index);
                  return (
                    <div
                      key={item.key}
                      role="listitem"
                      className={clsx(
                        'group border-line absolute inset-x-0 top-0 grid items-center border-b px-5',
                        row?.id === props.id && 'bg-paper shadow-[inset_4px_0_0_var(--decide)]',
                        row?.active === false && 'text-ink2',
                      )}
                      style={{
                        height: ROW,
                        transform: `translateY(${item.start}px)`,
                        gridTemplateColumns: template(columns, chosen !== undefined),
                      }}
                    >
                      {row && (
                        <DirectoryRow
                          row={row}
                          columns={columns}
                          narrow={props.id !== undefined}
                          ticked={chosen?.has(row.id)}
                          onTick={(on, shift) => void tick(row, item.index, on, shift)}
                          onOpen={props.onOpen}
                        />
                      )}
                    </div>
                  );
                })}
              </div>
            </div>
          )}
        </div>
      </div>
    </>
  );
}

const template = (columns: { width: string }[], ticks: boolean) =>
  [...(ticks ? ['28px'] : []), ...columns.map((c) => c.width)].join(' ');
