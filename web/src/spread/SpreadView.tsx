import { useVirtualizer, type Range } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { memo, useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react';
import { useLocation, useNavigate } from 'react-router';
import type { Session, Setting, SpreadRow } from '../api/client';
import { useCatalogue, usePolicies, usePolicy } from '../api/queries';
import { useAfter } from '../draft/draft';
import { Pick } from '../frame/Pick';
import { Trouble } from '../frame/Trouble';
import { draftOf, useQuestion, writeQuestion, type Who } from '../frame/question';
import { count, figure } from '../text/words';
import { COLUMN, cellProps, isLong } from './Cell';
import { Strip } from './Strip';
import { readTyped, type Typed } from './typing';
import { useWindow, type Asked } from './useWindow';

const ROW = 30;
const HEAD = 272;
const TOP = 40;

const FILTERS = {
  'not-built-in': 'where it is not the built-in value',
  mixed: 'where anything differs inside',
  blocked: 'where a licence blocks',
  drafted: 'where the draft changes something',
} as const;

type Filter = keyof typeof FILTERS;

/** The whole estate as one matrix: units down to people, or groups, by settings. */
export function SpreadView({ session }: { session?: Session }) {
  const catalogue = useCatalogue();
  const { search } = useLocation();
  const navigate = useNavigate();
  const params = useMemo(() => new URLSearchParams(search), [search]);
  useEffect(() => {
    document.title = 'Spread · Lean Ladder';
  }, []);
  const put = (name: string, value: string | undefined) => {
    const next = new URLSearchParams(search);
    if (value) next.set(name, value);
    else next.delete(name);
    void navigate(`/spread?${next.toString().replaceAll('%3A', ':')}`, { replace: true });
  };
  const apps = catalogue.data?.apps ?? [];
  const columns = params.get('columns') ?? `app:${apps.find((a) => a.id === 'chat')?.id ?? apps[0]?.id ?? ''}`;
  const policies = usePolicies();
  const policy = usePolicy(columns.startsWith('policy:') ? columns.slice(7) : undefined);
  const settings = useMemo(() => {
    const all = catalogue.data?.settings ?? [];
    const [kind, id = ''] = columns.split(/:(.*)/s);
    if (kind === 'app') return all.filter((s) => s.app === id);
    if (kind === 'family') {
      const family = catalogue.data?.families.find((f) => f.id === id);
      const keys = new Set(family?.states.flatMap((s) => Object.keys(s.values)));
      return all.filter((s) => keys.has(s.key));
    }
    if (kind === 'policy') {
      const keys = new Set(policy.data?.says.map((s) => s.setting));
      return all.filter((s) => keys.has(s.key));
    }
    if (kind === 'settings') {
      const byKey = new Map(all.map((s) => [s.key, s]));
      return keysOf(columns).flatMap((key) => byKey.get(key) ?? []);
    }
    return all.slice(0, 300);
  }, [catalogue.data, columns, policy.data]);
  if (catalogue.isError) return <Trouble error={catalogue.error} onRetry={() => void catalogue.refetch()} />;
  const rows = params.get('rows') === 'groups' ? 'groups' : 'units';
  const filter = (params.get('filter') ?? undefined) as Filter | undefined;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-5 pt-3 pb-1.5">
        <h1 className="font-display text-[18px] font-semibold">Spread</h1>
        <select
          className="field max-w-64"
          aria-label="Columns"
          value={columns}
          onChange={(e) => put('columns', e.target.value)}
        >
          <optgroup label="The settings of an app">
            {apps.map((a) => (
              <option key={a.id} value={`app:${a.id}`}>
                {a.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="A family">
            {catalogue.data?.families.map((f) => (
              <option key={f.id} value={`family:${f.id}`}>
                {f.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="What a policy speaks on">
            {policies.data?.policies.map((p) => (
              <option key={p.id} value={`policy:${p.id}`}>
                {p.name}
              </option>
            ))}
          </optgroup>
          <option value="all">Every setting</option>
          <option
            value={`settings:${settings
              .slice(0, MOST_CHOSEN)
              .map((s) => s.key)
              .join(',')}`}
          >
            Chosen one by one
          </option>
        </select>
        <span className="text-ink2">by</span>
        <select
          className="field"
          aria-label="Rows"
          value={rows}
          onChange={(e) => put('rows', e.target.value === 'groups' ? 'groups' : undefined)}
        >
          <option value="units">units and people</option>
          <option value="groups">groups</option>
        </select>
        <span className="text-ink2">shown:</span>
        <select
          className="field"
          aria-label="Which rows to show"
          value={filter ?? ''}
          onChange={(e) => put('filter', e.target.value || undefined)}
        >
          <option value="">everything</option>
          {Object.entries(FILTERS).map(([word, label]) => (
            <option key={word} value={word}>
              {label}
            </option>
          ))}
        </select>
      </div>
      {columns.startsWith('settings:') && (
        <Chosen settings={settings} onChoose={(keys) => put('columns', `settings:${keys.join(',')}`)} />
      )}
      {settings.length === 0 ? (
        <p className="text-ink2 px-5 py-3">
          {catalogue.data ? 'There is no setting among these columns; choose others above.' : 'Looking…'}
        </p>
      ) : (
        <Matrix
          key={`${columns} ${rows} ${filter}`}
          settings={settings}
          rows={rows}
          filter={filter}
          onClearFilter={() => put('filter', undefined)}
          zone={session?.organisation?.timeZone ?? 'UTC'}
        />
      )}
    </div>
  );
}

/** More would not fit into an address. */
const MOST_CHOSEN = 40;

const keysOf = (columns: string): string[] =>
  columns
    .slice(columns.indexOf(':') + 1)
    .split(',')
    .filter(Boolean);

/** The columns chosen one by one: each is taken away by its name, others are found by any word for them. */
function Chosen({ settings, onChoose }: { settings: Setting[]; onChoose: (keys: string[]) => void }) {
  const keys = settings.map((s) => s.key);
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-5 pb-2 text-[13px]">
      {settings.map((s) => (
        <button
          key={s.key}
          className="border-line2 hover:bg-well flex items-center gap-1.5 border-b px-0.5"
          aria-label={`Take ${s.title} away`}
          onClick={() => onChoose(keys.filter((k) => k !== s.key))}
        >
          {s.title} <span aria-hidden>✕</span>
        </button>
      ))}
      {settings.length < MOST_CHOSEN ? (
        <span className="w-72">
          <Pick
            label="Add a column"
            placeholder="Add a column: any word for it"
            kinds="setting"
            refuse={(hit) => (keys.includes(hit.id) ? 'It is a column already' : undefined)}
            onPick={(hit) => onChoose([...keys, hit.id])}
          />
        </span>
      ) : (
        <span className="text-ink2">More than {MOST_CHOSEN} cannot be chosen one by one.</span>
      )}
    </div>
  );
}

/**
 * The rows in sight and around it, always as many, so that a row that comes into sight can take the elements of the one that left:
 * making thousands of elements anew is what scrolling would cost most.
 */
function evenly(range: Range): number[] {
  const wanted = Math.ceil((range.endIndex - range.startIndex + 1 + 2 * range.overscan) / 8) * 8;
  const many = Math.min(range.count, wanted);
  const first = Math.max(0, Math.min(range.startIndex - range.overscan, range.count - many));
  return Array.from({ length: many }, (_, i) => first + i);
}

/** What typing into the cell stood on does. */
interface Typing {
  change: (text: string) => void;
  /** @param keep whether what was typed is staged; otherwise it is given up */
  done: (keep: boolean) => void;
}

interface Spot {
  row: number;
  column: number;
}

function Matrix(props: {
  settings: Setting[];
  rows: 'units' | 'groups';
  filter?: Filter;
  onClearFilter: () => void;
  zone: string;
}) {
  const { settings, filter } = props;
  const [question] = useQuestion();
  const navigate = useNavigate();
  const after = useAfter();
  const [open, setOpen] = useState<string[] | 'all' | 'units'>([]);
  const [shut, setShut] = useState<string[]>([]);
  const [spot, setSpot] = useState<Spot>({ row: 0, column: 0 });
  const [typed, setTyped] = useState<Typed>();
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState(0);
  const down = useVirtualizer({
    count: size,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 6,
    rangeExtractor: evenly,
    useFlushSync: false,
    paddingStart: TOP,
    scrollPaddingStart: TOP,
  });
  const across = useVirtualizer({
    horizontal: true,
    count: settings.length,
    getScrollElement: () => box.current,
    estimateSize: () => COLUMN,
    overscan: 2,
    useFlushSync: false,
    paddingStart: HEAD,
    scrollPaddingStart: HEAD,
  });
  const shown = down.getVirtualItems();
  // In the order of the elements that they take, so that none of these is moved either; aria-rowindex tells the true order.
  const slot = (item: { index: number }) => item.index % shown.length;
  const placed = [...shown].sort((a, b) => slot(a) - slot(b));
  const asked: Asked = useMemo(
    () => ({ settings: settings.map((s) => s.key), rows: props.rows, open, shut, filter: filter ?? null }),
    [settings, props.rows, open, shut, filter],
  );
  const draft = draftOf(question.when);
  const where = {
    ...(question.when === undefined || draft !== undefined ? after.query : { at: question.when }),
    workspace: question.where?.id,
  };
  const inSight = across.getVirtualItems();
  const window = useWindow(
    asked,
    where,
    after.key,
    shown[0]?.index ?? 0,
    shown[shown.length - 1]?.index ?? 0,
    inSight[0]?.index ?? 0,
  );
  const total = window.total ?? size;
  if (total !== size) setSize(total);
  const held = window.rows.get(spot.row);
  const row = held?.row;
  const setting = settings[spot.column];
  const edit = useRef<HTMLDivElement>(null);

  const go = useCallback(
    (to: Spot) => {
      const next = {
        row: Math.max(0, Math.min(size - 1, to.row)),
        column: Math.max(0, Math.min(settings.length - 1, to.column)),
      };
      setSpot(next);
      setTyped(undefined);
      down.scrollToIndex(next.row);
      across.scrollToIndex(next.column);
    },
    [size, settings.length, down, across],
  );
  const turn = (one: SpreadRow | undefined, to: boolean) => {
    if (!one?.openable || typeof open === 'string') return;
    setOpen(to ? [...open, one.id] : open.filter((id) => id !== one.id));
    setShut(to ? shut.filter((id) => id !== one.id) : [...shut, one.id]);
  };
  const type = (text: string) => {
    if (row && row.more !== 'mailing' && setting) setTyped(readTyped(setting, text));
  };
  const keys = (e: KeyboardEvent<HTMLDivElement>) => {
    if (e.target !== e.currentTarget) return;
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 300) / ROW) - 3);
    const moves: Record<string, Spot> = {
      ArrowDown: { ...spot, row: spot.row + 1 },
      ArrowUp: { ...spot, row: spot.row - 1 },
      ArrowLeft: { ...spot, column: spot.column - 1 },
      ArrowRight: { ...spot, column: spot.column + 1 },
      PageDown: { ...spot, row: spot.row + page },
      PageUp: { ...spot, row: spot.row - page },
      Home: e.ctrlKey ? { row: 0, column: 0 } : { ...spot, column: 0 },
      End: e.ctrlKey ? { row: size - 1, column: settings.length - 1 } : { ...spot, column: settings.length - 1 },
    };
    const move = moves[e.key];
    if (move) {
      e.preventDefault();
      go(move);
    } else if (e.key === ' ') {
      e.preventDefault();
      turn(row, !row?.open);
    } else if (typed?.silent && (e.key === 'Enter' || e.key === 'Escape')) {
      e.preventDefault();
      typing.done(e.key === 'Enter');
    } else if (e.key === 'Enter' && row && setting) {
      e.preventDefault();
      void navigate(`/ladder${writeQuestion({ ...question, who: whoOf(row), what: { id: setting.key } })}`);
    } else if ((e.key === 'Delete' || e.key === 'Backspace') && row && row.more !== 'mailing' && setting) {
      e.preventDefault();
      setTyped({ text: '', silent: true });
    } else if (/^[\p{L}\p{N}]$/u.test(e.key) && !e.ctrlKey && !e.metaKey && !e.altKey) {
      e.preventDefault();
      type(e.key);
    }
  };
  // Rows are drawn again only when something of theirs changed, so that scrolling costs the rows that come into sight.
  const act = useRef({ turn, type });
  useEffect(() => {
    act.current = { turn, type };
  });
  const turnAt = useCallback((one: SpreadRow | undefined) => act.current.turn(one, !one?.open), []);
  const standOn = (e: MouseEvent) => {
    const cell = (e.target as Element).closest('[role=gridcell]');
    const at = cell?.closest('[aria-rowindex]')?.getAttribute('aria-rowindex');
    if (!cell || !at || e.target instanceof HTMLInputElement) return;
    e.preventDefault();
    box.current?.focus();
    setSpot({ row: Number(at) - 2, column: Number(cell.getAttribute('aria-colindex')) - 2 });
    setTyped(undefined);
  };
  const typing = useMemo<Typing>(
    () => ({
      change: (text) => act.current.type(text),
      done: (keep) => {
        if (keep) edit.current?.querySelector('form')?.requestSubmit();
        else {
          setTyped(undefined);
          box.current?.focus();
        }
      },
    }),
    [],
  );
  const columns = useMemo(() => inSight.map((c) => ({ index: c.index, left: c.start })), [inSight]);
  return (
    <>
      <p className="text-ink2 flex items-center gap-3 px-5 pb-2 text-[13px]">
        <span>
          {count(total, 'row')}, {count(settings.length, 'setting')}
          {filter && `: only ${FILTERS[filter]}`}
          {after.query.draft !== undefined && ', after the draft'}.
        </span>
        {filter && (
          <button className="quiet" onClick={props.onClearFilter}>
            Show everything
          </button>
        )}
        {typeof open === 'string' ? (
          <button className="quiet" onClick={() => setOpen([])}>
            Close all
          </button>
        ) : (
          <>
            {props.rows === 'units' && (
              <button className="quiet" onClick={() => setOpen('units')}>
                Open all units
              </button>
            )}
            <button className="quiet" onClick={() => setOpen('all')}>
              Open all, down to people
            </button>
          </>
        )}
        <SpreadCsv asked={asked} query={where} />
      </p>
      {window.error ? (
        <Trouble error={window.error} />
      ) : size === 0 && !window.pending ? (
        <p className="px-5 py-2">
          {filter ? `There is no row ${FILTERS[filter]}.` : 'There is nothing here yet: the directory has no rows.'}
        </p>
      ) : (
        <div
          ref={box}
          role="grid"
          aria-label="The estate by settings"
          aria-rowcount={size + 1}
          aria-colcount={settings.length + 1}
          aria-activedescendant={row ? `cell-${spot.row}-${spot.column}` : undefined}
          tabIndex={0}
          className="group/matrix border-line relative min-h-0 flex-1 overflow-auto border-t outline-none"
          onKeyDown={keys}
          onMouseDown={standOn}
        >
          <div style={{ height: down.getTotalSize(), width: across.getTotalSize(), position: 'relative' }}>
            <div
              role="row"
              className="bg-paper border-line2 sticky top-0 z-20 border-b"
              style={{ width: across.getTotalSize(), height: TOP }}
            >
              <span
                role="columnheader"
                className="bg-paper sticky left-0 z-10 flex items-end px-5 pb-1.5 font-semibold"
                style={{ width: HEAD, height: TOP - 1 }}
              >
                {props.rows === 'groups' ? 'Group' : 'Unit'}
              </span>
              {inSight.map((column) => {
                const one = settings[column.index];
                return (
                  <span
                    key={column.key}
                    role="columnheader"
                    title={one?.help ?? one?.title}
                    className={clsx(
                      'absolute top-0 flex items-end px-2 pb-1 text-[13px] leading-[15px]',
                      column.index === spot.column ? 'font-semibold' : 'text-ink2',
                    )}
                    style={{ left: column.start, width: COLUMN, height: TOP }}
                  >
                    <span className="line-clamp-2">{one?.title}</span>
                  </span>
                );
              })}
            </div>
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
                  row={window.rows.get(item.index)?.row}
                  chosen={item.index === spot.row}
                  onTurn={turnAt}
                />
              ))}
            </div>
            {placed.map((item) => (
              <MatrixRow
                key={slot(item)}
                index={item.index}
                top={item.start}
                width={across.getTotalSize()}
                row={window.rows.get(item.index)?.row}
                firstColumn={window.rows.get(item.index)?.firstColumn ?? 0}
                columns={columns}
                standsOn={item.index === spot.row ? spot.column : undefined}
                text={item.index === spot.row && typed?.text ? typed.text : undefined}
                typing={typing}
                onTurn={turnAt}
              />
            ))}
          </div>
        </div>
      )}
      <div ref={edit}>
        {row && setting && (
          <Strip
            key={`${row.kind} ${row.id} ${setting.key}`}
            row={row}
            setting={setting}
            cell={row.cells[spot.column - held.firstColumn]}
            question={question}
            typed={typed}
            onTyped={setTyped}
            onDone={() => box.current?.focus()}
          />
        )}
      </div>
    </>
  );
}

interface RowProps {
  index: number;
  row?: SpreadRow;
  /** The column of the row's first cell. */
  firstColumn: number;
  columns: { index: number; left: number }[];
  /** The column stood on, where this is the row stood on. */
  standsOn?: number;
  /** What is typed into the cell stood on. */
  text?: string;
  typing: Typing;
}

const MatrixRow = memo(function MatrixRow(
  props: RowProps & { top: number; width: number; onTurn: (row: SpreadRow | undefined) => void },
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

/** Whom a row is about, as a question names it. */
export const whoOf = (row: SpreadRow): Who => ({ kind: row.kind, id: row.id });

/** The name of a row, and how many accounts it holds, for the eye and the mouse; the row itself tells them to whoever listens. */
const RowHead = memo(function RowHead(props: {
  top: number;
  row?: SpreadRow;
  chosen: boolean;
  onTurn: (row: SpreadRow | undefined) => void;
}) {
  const { row, chosen } = props;
  const counted = row && row.kind !== 'account' ? figure(row.accounts) : '';
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

/** The whole matrix as it is asked for, as a file. */
function SpreadCsv({ asked, query }: { asked: Asked; query: Record<string, string | number | undefined> }) {
  const fetchIt = async () => {
    const params = new URLSearchParams({ format: 'csv' });
    for (const [name, value] of Object.entries(query)) if (value !== undefined) params.set(name, String(value));
    const got = await fetch(`/api/v1/spread?${params.toString()}`, { method: 'POST', body: JSON.stringify(asked) });
    const link = document.createElement('a');
    link.href = URL.createObjectURL(await got.blob());
    link.download = 'spread.csv';
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <button className="quiet ml-auto" onClick={() => void fetchIt()}>
      As CSV
    </button>
  );
}
