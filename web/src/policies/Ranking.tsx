import { clsx } from 'clsx';
import type { KeyboardEvent } from 'react';
import type { PolicyLine } from '../api/client';
import { SortableList, useRow } from '../parts/SortableList';
import { count, formatNumber } from '../text/words';

/** The policies as sentences, the strongest first, moved by mouse or by keyboard. */
export function Ranking(props: {
  shown: PolicyLine[];
  order: PolicyLine[];
  chosen?: string;
  movable: boolean;
  touched: Set<string>;
  onOpen: (policy: string) => void;
  onMove: (policy: string, to: number) => void;
}) {
  return (
    <SortableList
      label="Policies, the strongest first"
      className="border-line border-t"
      ids={props.shown.map((p) => p.id)}
      movable={props.movable}
      onMove={(policy, onto) =>
        props.onMove(
          policy,
          props.order.findIndex((p) => p.id === onto),
        )
      }
    >
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
    </SortableList>
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
  const { row, handle, dragging } = useRow(policy.id, props.movable);
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
      {...row}
      className={clsx(
        'border-line relative flex items-start border-b',
        props.chosen && 'bg-paper shadow-[inset_4px_0_0_var(--decide)]',
        dragging && 'bg-well z-10',
        props.touched && 'shadow-[inset_4px_0_0_var(--draft)]',
      )}
    >
      <button
        {...handle}
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
        <span className="inline-block min-w-9 font-semibold">{formatNumber(policy.reaches)}</span>
      </span>
    );
  return <span className="text-ink2 shrink-0">{policy.inWorkspaces ? 'reaches them there' : 'nobody now'}</span>;
}
