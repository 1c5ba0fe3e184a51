import { useVirtualizer, type Range } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react';
import { useNavigate } from 'react-router';
import { api, unwrapAs, type MatrixRowData, type MatrixView, type Setting } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { draftOf, useQuestion, whoText, writeQuestion, type Question, type Who } from '../question/question';
import { COLUMN } from './Cell';
import { HEAD, ROW, type Typing } from './MatrixRow';
import { CellInspector } from './CellInspector';
import { cellOf, moved, type Spot } from './cellMoves';
import { FILTERS, type Filter } from './filters';
import { MatrixGrid } from './MatrixGrid';
import { TOP } from './MatrixHeader';
import { MatrixToolbar } from './MatrixToolbar';
import { parseCellInput, type CellInput } from './parseCellInput';
import { useRested } from './useRested';
import { useMatrixWindow, type MatrixQuery } from './useMatrixWindow';

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

/** The matrix itself: its rows and columns, the keys that move and type in it, and the strip below. */
export function Matrix(props: {
  settings: Setting[];
  rows: 'units' | 'groups';
  filter?: Filter;
  onClearFilter: () => void;
  zone: string;
  /** Where it stands when it opens. */
  at: Question;
  /** Told where one stands, once one has rested there. */
  onStand: (row: string, column: string) => void;
  /** Asks for a setting that is no column yet. */
  onColumn: (key: string) => void;
  /** What it is called on paper. */
  title: string;
}) {
  const { settings, filter } = props;
  const [question] = useQuestion();
  const navigate = useNavigate();
  const after = useAfterDraft();
  const [open, setOpen] = useState<string[] | 'all' | 'units'>([]);
  const [shut, setShut] = useState<string[]>([]);
  const [spot, setSpot] = useState<Spot>({
    row: 0,
    column: Math.max(
      0,
      settings.findIndex((s) => s.key === props.at.what?.id),
    ),
  });
  const [typed, setTyped] = useState<CellInput>();
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
  const asked: MatrixQuery = useMemo(
    () => ({ settings: settings.map((s) => s.key), rows: props.rows, open, shut, filter: filter ?? null }),
    [settings, props.rows, open, shut, filter],
  );
  const draft = draftOf(question.when);
  const where = {
    ...(question.when === undefined || draft !== undefined ? after.query : { at: question.when }),
    workspace: question.where?.id,
  };
  const inSight = across.getVirtualItems();
  const window = useMatrixWindow(
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
  /** Stands on the row of a unit, a group or a person, and opens what is above it. */
  const find = async (target: string) => {
    const view = await unwrapAs<MatrixView>(
      api.POST('/api/v1/matrix', { params: { query: where }, body: { ...asked, find: target, count: 0 } }),
    );
    if (view.found === null) return false;
    if (typeof open !== 'string') setOpen([...new Set([...open, ...view.opened])]);
    setShut(shut.filter((id) => !view.opened.includes(id)));
    setSize(view.total);
    setSought(view.found);
    return true;
  };
  const [sought, setSought] = useState<number>();
  useEffect(() => {
    if (sought === undefined || sought >= size) return;
    go({ row: sought, column: spot.column });
    down.scrollToIndex(sought, { align: 'center' });
    box.current?.focus();
    setSought(undefined);
  }, [sought, size, go, down, spot.column]);
  useRested(
    row && setting && (spot.row > 0 || spot.column > 0) ? `${row.kind}:${row.id}` : undefined,
    setting?.key,
    props.onStand,
  );
  const opening = useRef(props.at.who);
  useEffect(() => {
    const who = opening.current;
    opening.current = undefined;
    if (spot.column > 0) across.scrollToIndex(spot.column);
    if (who && who.kind !== 'everyone' && (who.kind === 'group') === (props.rows === 'groups')) void find(whoText(who));
    // Only when it opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const turn = (one: MatrixRowData | undefined, to: boolean) => {
    if (!one?.openable || typeof open === 'string') return;
    setOpen(to ? [...open, one.id] : open.filter((id) => id !== one.id));
    setShut(to ? shut.filter((id) => id !== one.id) : [...shut, one.id]);
  };
  const type = (text: string) => {
    if (row && row.more !== 'mailing' && setting) setTyped(parseCellInput(setting, text));
  };
  const keys = (e: KeyboardEvent<HTMLDivElement>) => {
    if (e.target !== e.currentTarget) return;
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 300) / ROW) - 3);
    const move = moved(e.key, e.ctrlKey, spot, size, settings.length, page);
    if (move) {
      e.preventDefault();
      go(move);
    } else if (e.key === ' ') {
      e.preventDefault();
      turn(row, !row?.open);
    } else if (typed?.silent && (e.key === 'Enter' || e.key === 'Escape')) {
      e.preventDefault();
      typing.done(e.key === 'Enter');
    } else if (e.key === 'Escape' && filter) {
      props.onClearFilter();
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
  const turnAt = useCallback((one: MatrixRowData | undefined) => act.current.turn(one, !one?.open), []);
  const standOn = (e: MouseEvent) => {
    const cell = cellOf(e.target as Element);
    if (!cell) return;
    e.preventDefault();
    box.current?.focus();
    setSpot(cell);
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
  return (
    <>
      <MatrixToolbar
        total={total}
        settings={settings}
        rows={props.rows}
        filter={filter}
        open={open}
        drafted={draft !== undefined || after.query.draft !== undefined}
        inWorkspace={question.where !== undefined}
        title={props.title}
        zone={props.zone}
        asked={asked}
        where={where}
        onOpen={setOpen}
        onClearFilter={props.onClearFilter}
        onFind={(hit) => {
          const column = settings.findIndex((s) => s.key === hit.id);
          if (hit.kind !== 'setting') void find(`${hit.kind}:${hit.id}`);
          else if (column < 0) props.onColumn(hit.id);
          else {
            go({ row: spot.row, column });
            box.current?.focus();
          }
        }}
      />
      {window.error ? (
        <ErrorNotice error={window.error} />
      ) : size === 0 && !window.pending ? (
        <p className="px-5 py-2">
          {filter ? `There is no row ${FILTERS[filter]}.` : 'There is nothing here yet: the directory has no rows.'}
        </p>
      ) : (
        <MatrixGrid
          box={box}
          settings={settings}
          rows={props.rows}
          size={size}
          spot={spot}
          down={down}
          across={across}
          held={window.rows}
          text={typed?.text}
          typing={typing}
          onTurn={turnAt}
          onKeyDown={keys}
          onMouseDown={standOn}
        />
      )}
      <div ref={edit}>
        {row && setting && (
          <CellInspector
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

/** Whom a row is about, as a question names it. */
export const whoOf = (row: MatrixRowData): Who => ({ kind: row.kind, id: row.id });
