import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { restrictToParentElement, restrictToVerticalAxis } from '@dnd-kit/modifiers';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { clsx } from 'clsx';
import { useEffect, useMemo, useState, type KeyboardEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { PolicyLine, Session } from '../api/client';
import { usePolicies } from '../api/queries';
import { Trouble } from '../frame/Trouble';
import { useQuestion, writeQuestion } from '../frame/question';
import { count } from '../text/words';
import type { Planned, Sheet } from './edits';
import { PolicySheet } from './PolicySheet';
import { Publisher } from './Publisher';

/** A policy that is not published yet, and what it is a copy of. */
export interface Fresh {
  sheet: Sheet;
  below?: string;
}

/** All policies in their ranking, and the sheet of the one that is open. */
export function PoliciesView({ session }: { session?: Session }) {
  const policies = usePolicies();
  const { id } = useParams();
  const [question] = useQuestion();
  const navigate = useNavigate();
  const [fresh, setFresh] = useState<Fresh>();
  const [moves, setMoves] = useState<{ policy: string; above: string | null }[]>([]);
  const [text, setText] = useState('');
  const open = (policy: string | undefined) =>
    void navigate(`/policies${policy ? `/${encodeURIComponent(policy)}` : ''}${writeQuestion(question)}`);
  useEffect(() => {
    document.title = 'Policies · Lean Ladder';
  }, []);
  const published = useMemo(() => policies.data?.policies ?? [], [policies.data]);
  const order = useMemo(() => moved(published, moves), [published, moves]);
  const planned: Planned[] = moves.map((m) => ({ edit: { kind: 'rank-policy', ...m }, about: m.policy }));
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = order.filter((p) =>
    words.every((w) => `${p.name} ${p.for} ${p.description ?? ''}`.toLowerCase().includes(w)),
  );
  const move = (policy: string, to: number) => {
    const others = order.filter((p) => p.id !== policy);
    const above = others[to]?.id ?? null;
    setMoves((before) => [
      ...before.filter((m, i) => !(m.policy === policy && i === before.length - 1)),
      { policy, above },
    ]);
  };
  if (policies.isError) return <Trouble error={policies.error} onRetry={() => void policies.refetch()} />;
  const zone = session?.organisation?.timeZone ?? 'UTC';
  const sheetOpen = fresh !== undefined || id !== undefined;
  return (
    <div className="flex h-full min-h-0">
      <section
        aria-label="All policies"
        className={clsx(
          'relative flex min-w-0 flex-col',
          sheetOpen ? 'border-line w-[40%] max-w-[560px] border-r max-[1023px]:hidden' : 'flex-1',
        )}
      >
        <div className="flex items-center gap-3 px-5 pt-4 pb-2">
          <h1 className="font-display text-[18px] font-semibold whitespace-nowrap">Policies in their ranking</h1>
          <input
            className="field max-w-56 flex-1"
            aria-label="Filter the policies"
            placeholder="Filter"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <button
            className="button ml-auto"
            onClick={() => {
              setFresh({ sheet: { name: '', description: '', paused: false, lines: [], assignments: [] } });
              open(undefined);
            }}
          >
            New policy
          </button>
        </div>
        <p className="text-ink2 px-5 pb-2 text-[13px]">
          {words.length > 0 ? (
            <>
              {count(shown.length, 'policy', 'policies')} of {order.length} shown: those that hold “{text}”.{' '}
              <button className="quiet" onClick={() => setText('')}>
                Show all
              </button>
            </>
          ) : (
            <>The first is the strongest. The ranking settles ties on one rung and nothing else.</>
          )}
        </p>
        <div className="min-h-0 flex-1 overflow-y-auto">
          {policies.isPending ? (
            <p className="text-ink2 px-5">Looking…</p>
          ) : order.length === 0 ? (
            <p className="px-5">
              There is no policy yet: every setting stands at its built-in value. Write the first one.
            </p>
          ) : (
            <Ranking
              shown={shown}
              order={order}
              chosen={fresh ? undefined : id}
              movable={words.length === 0}
              onOpen={(policy) => {
                setFresh(undefined);
                open(policy);
              }}
              onMove={move}
              touched={new Set(moves.map((m) => m.policy))}
            />
          )}
        </div>
        {planned.length > 0 && policies.data && (
          <Publisher
            base={policies.data.change}
            planned={planned}
            title="The ranking"
            zone={zone}
            onDiscard={() => setMoves([])}
            onPublished={() => setMoves([])}
          />
        )}
      </section>
      {sheetOpen && (
        <PolicySheet
          key={fresh ? `new ${fresh.below ?? ''}` : id}
          id={fresh ? undefined : id}
          fresh={fresh}
          zone={zone}
          change={policies.data?.change ?? 0}
          onClose={() => {
            setFresh(undefined);
            open(undefined);
          }}
          onCopy={(sheet, below) => setFresh({ sheet, below })}
          onOpen={(policy) => {
            setFresh(undefined);
            open(policy);
          }}
        />
      )}
    </div>
  );
}

/** The published order after moves that are not published yet. */
export function moved(published: PolicyLine[], moves: { policy: string; above: string | null }[]): PolicyLine[] {
  let order = published;
  for (const { policy, above } of moves) {
    const line = order.find((p) => p.id === policy);
    if (!line) continue;
    const others = order.filter((p) => p.id !== policy);
    const at = above === null ? others.length : others.findIndex((p) => p.id === above);
    order = [...others.slice(0, at), line, ...others.slice(at)];
  }
  return order;
}

function Ranking(props: {
  shown: PolicyLine[];
  order: PolicyLine[];
  chosen?: string;
  movable: boolean;
  touched: Set<string>;
  onOpen: (policy: string) => void;
  onMove: (policy: string, to: number) => void;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = props.shown.map((p) => p.id);
  const ended = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    props.onMove(
      String(active.id),
      props.order.findIndex((p) => p.id === over.id),
    );
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={[restrictToVerticalAxis, restrictToParentElement]}
      onDragEnd={ended}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy} disabled={!props.movable}>
        <ol className="border-line border-t" aria-label="Policies, the strongest first">
          {props.shown.map((policy) => (
            <PolicyRow
              key={policy.id}
              policy={policy}
              place={props.order.indexOf(policy)}
              last={props.order.length - 1}
              chosen={policy.id === props.chosen}
              touched={props.touched.has(policy.id)}
              movable={props.movable}
              onOpen={() => props.onOpen(policy.id)}
              onMove={(to) => props.onMove(policy.id, to)}
            />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function PolicyRow(props: {
  policy: PolicyLine;
  place: number;
  last: number;
  chosen: boolean;
  touched: boolean;
  movable: boolean;
  onOpen: () => void;
  onMove: (to: number) => void;
}) {
  const { policy, place } = props;
  const sortable = useSortable({ id: policy.id, disabled: !props.movable });
  const keys = (e: KeyboardEvent<HTMLButtonElement>) => {
    if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
    e.preventDefault();
    const by = e.key === 'ArrowUp' ? -1 : 1;
    if (e.altKey && props.movable) {
      const to = place + by;
      if (to >= 0 && to <= props.last) props.onMove(to);
      return;
    }
    const rows = [...(e.currentTarget.closest('ol')?.querySelectorAll<HTMLElement>('[data-policy]') ?? [])];
    rows[rows.indexOf(e.currentTarget) + by]?.focus();
  };
  return (
    <li
      ref={sortable.setNodeRef}
      style={{ transform: CSS.Translate.toString(sortable.transform), transition: sortable.transition }}
      className={clsx(
        'border-line relative flex items-start border-b',
        props.chosen && 'bg-paper shadow-[inset_4px_0_0_var(--decide)]',
        sortable.isDragging && 'bg-well z-10',
        props.touched && 'shadow-[inset_4px_0_0_var(--draft)]',
      )}
    >
      <button
        ref={sortable.setActivatorNodeRef}
        {...sortable.listeners}
        {...sortable.attributes}
        aria-label={`Move ${policy.name} in the ranking`}
        className="text-ink2 hover:text-ink w-12 shrink-0 cursor-grab py-2 pl-5 text-right touch-none"
        disabled={!props.movable}
      >
        {place + 1}
      </button>
      <button
        data-policy={policy.id}
        className="min-w-0 flex-1 py-2 pr-5 pl-3 text-left focus-visible:outline-offset-[-2px]"
        aria-current={props.chosen || undefined}
        onClick={props.onOpen}
        onKeyDown={keys}
      >
        <span className="flex items-baseline gap-4">
          <span className="min-w-0 flex-1">
            <strong className="font-semibold">{policy.name}</strong>
            <span className="text-ink2">
              {' — '}
              {count(policy.statements, 'statement')} — for {policy.for}
            </span>
          </span>
          <Reach policy={policy} />
        </span>
      </button>
    </li>
  );
}

function Reach({ policy }: { policy: PolicyLine }) {
  if (!policy.live) return <span className="text-shut shrink-0 font-semibold">paused</span>;
  if (policy.reaches > 0)
    return (
      <span className="shrink-0 text-right">
        <span className="text-ink2">reaches </span>
        <span className="inline-block min-w-9 font-semibold">{policy.reaches.toLocaleString('en-GB')}</span>
      </span>
    );
  return <span className="text-ink2 shrink-0">{policy.inWorkspaces ? 'reaches them there' : 'nobody now'}</span>;
}
