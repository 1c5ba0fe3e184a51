import { useQueries } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { useRef, useState } from 'react';
import { unwrapAs, api, type DirectoryList } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { ViewAs } from '../parts/SuitePage';
import { count, formatNumber } from '../text/words';
import { GroupFrom } from './GroupFrom';
import { columnsOf, type Row, type Listed } from './columns';
import { Select } from '../parts/Select';

const PAGE = 100;
/** DirectoryRows that are read at once where all of them are wanted. */
const AT_ONCE = 1000;
const ROW = 30;

interface Filters {
  q?: string;
  active?: 'true' | 'false';
  purpose?: 'access' | 'mailing';
  sort?: 'name';
}

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
  const [text, setText] = useState(filters.q ?? '');
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
  const said = [
    filters.q && `with “${filters.q}”`,
    filters.active === 'true' && 'that are active',
    filters.active === 'false' && 'that are deactivated',
    filters.purpose && `for ${filters.purpose}`,
  ].filter(Boolean);
  const csv = new URLSearchParams({ format: 'csv' });
  for (const [key, value] of Object.entries({ ...filters, ...after.query }))
    if (value !== undefined) csv.set(key, String(value));
  const clear = () => {
    setText('');
    props.onClear();
  };
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
      <div className="flex flex-wrap items-center gap-3 px-5 pb-2">
        <input
          className="field w-64"
          aria-label={`Search the ${list.title.toLowerCase()}`}
          placeholder="Search"
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            props.onFilter({ ...filters, q: e.target.value || undefined });
          }}
          onKeyDown={(e) => e.key === 'Escape' && clear()}
        />
        {chosen && (
          <Select
            label="Active or not"
            value={filters.active ?? ''}
            options={[
              { value: '', label: 'active or not' },
              { value: 'true', label: 'active' },
              { value: 'false', label: 'deactivated' },
            ]}
            onChange={(v) => props.onFilter({ ...filters, active: (v || undefined) as 'true' })}
          />
        )}
        {list.name === 'groups' && (
          <Select
            label="What for"
            value={filters.purpose ?? ''}
            options={[
              { value: '', label: 'for access or mail' },
              { value: 'access', label: 'for access' },
              { value: 'mailing', label: 'for mail' },
            ]}
            onChange={(v) => props.onFilter({ ...filters, purpose: (v || undefined) as 'access' })}
          />
        )}
        <span className="text-ink2 text-[13px]" role="status">
          {found[0]?.isPending ? 'Looking…' : count(total, list.one, list.many)}
          {said.length > 0 && ` ${said.join(' and ')}.`}{' '}
          {said.length > 0 && (
            <button className="quiet" onClick={clear}>
              Show all
            </button>
          )}
        </span>
        {chosen && total > 0 && (
          <button className="quiet text-[13px]" onClick={() => void tickAll()}>
            Tick all {formatNumber(total)}
          </button>
        )}
        {chosen && filters.q && total > 0 && (
          <GroupFrom
            label={`Make a group of these ${formatNumber(total)}`}
            accounts={async () => (await range(0, total - 1)).map((row) => row.id)}
            onCreated={props.onGroup}
          />
        )}
        <a className="quiet ml-auto text-[13px]" href={`/api/v1/directory/${list.name}?${csv.toString()}`}>
          As CSV
        </a>
      </div>
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
              {said.length > 0
                ? 'Nothing here fits.'
                : `There is no ${list.one} yet. Make one${list.name === 'workspaces' ? '.' : ', or read them from a file.'}`}
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
                      {chosen && row && (
                        <input
                          type="checkbox"
                          aria-label={`Choose ${row.name}`}
                          checked={chosen.has(row.id)}
                          onChange={(e) =>
                            void tick(row, item.index, e.target.checked, (e.nativeEvent as MouseEvent).shiftKey)
                          }
                        />
                      )}
                      {row &&
                        columns.map((c, i) =>
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
                                    props.id
                                      ? 'hidden group-focus-within:inline group-hover:inline'
                                      : 'max-[1279px]:hidden max-[1279px]:group-focus-within:inline max-[1279px]:group-hover:inline',
                                  )}
                                >
                                  <ViewAs id={row.id} name={row.name} />
                                </span>
                              )}
                            </span>
                          ) : (
                            <span
                              key={c.title}
                              className={clsx('truncate pr-3', c.right && 'text-right')}
                              title={c.of(row)}
                            >
                              {c.of(row)}
                            </span>
                          ),
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
