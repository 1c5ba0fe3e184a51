import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { PolicyException } from '../api/client';
import { useExceptions } from '../parts/queries';
import { useAfterDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { formatInstant } from '../text/dates';
import { count, formatNumber } from '../text/words';
import { formatWindow } from '../text/dates';

const ROW = 30;
const COLUMNS = 'minmax(160px,1.3fr) minmax(180px,1.3fr) 76px minmax(90px,1fr) 130px minmax(80px,0.8fr)';

const WORDS = { 'left-out': 'left out of', named: 'named in' } as const;

type Compared = (a: PolicyException, b: PolicyException) => number;

/** By a text as a dictionary has it; those without one come last. */
const by =
  (text: (e: PolicyException) => string | undefined): Compared =>
  (a, b) =>
    Number(text(a) === undefined) - Number(text(b) === undefined) ||
    (text(a) ?? '').localeCompare(text(b) ?? '', 'en-GB');

/** Orders, by the heading that asks for them; without one the oldest is first. */
export const ORDERS = {
  Whom: by((e) => e.whom),
  Policy: by((e) => e.policyName),
  Accounts: (a, b) => b.accounts - a.accounts,
  Window: by((e) => e.until),
  Since: by((e) => e.made?.at),
  By: by((e) => e.made?.author),
} satisfies Record<string, Compared>;

type Order = keyof typeof ORDERS;

/** How an exception reads: "Safety stewards, left out of Bridge under way". */
export const sentence = (e: PolicyException): string => `${e.whom}, ${WORDS[e.kind]} ${e.policyName}`;

/** When an exception counts, in words: "always", "until Tue 15 Dec, 00:00", "ended Tue 3 Nov, 01:00". */
export function windowOf(e: PolicyException, zone: string): string {
  if (e.state === 'over' && e.until) return `ended ${formatInstant(e.until, zone)}`;
  if (e.state === 'paused') return 'policy paused';
  return formatWindow(e.state === 'early' ? e : { until: e.until }, zone) || 'always';
}

/** Every exception of every policy, with its age and author: none hides in the sheet of one policy or the page of one person. */
export function Exceptions(props: {
  zone: string;
  words: string[];
  chosen?: string;
  onOpen: (policy: string) => void;
  onClear: () => void;
}) {
  const found = useExceptions();
  const after = useAfterDraft();
  const [order, setOrder] = useState<Order>('Since');
  const box = useRef<HTMLDivElement>(null);
  const all = useMemo(() => found.data?.exceptions ?? [], [found.data]);
  const shown = useMemo(
    () =>
      all
        .filter((e) => props.words.every((w) => sentence(e).toLowerCase().includes(w)))
        .sort((a, b) => ORDERS[order](a, b)),
    [all, props.words, order],
  );
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 10,
  });
  if (found.isError) return <ErrorNotice error={found.error} onRetry={() => void found.refetch()} />;
  const csv = new URLSearchParams({ format: 'csv' });
  if (after.query.draft !== undefined) csv.set('draft', String(after.query.draft));
  return (
    <>
      <p className="text-ink2 flex gap-3 px-5 pb-2 text-[13px]" role="status">
        <span>
          {found.isPending
            ? 'Looking…'
            : props.words.length > 0
              ? `${count(shown.length, 'exception')} of ${formatNumber(all.length)} shown: those that hold “${props.words.join(' ')}”.`
              : `${count(all.length, 'exception')}: whoever a policy leaves out, and every account that one names.`}{' '}
          {props.words.length > 0 && (
            <button className="quiet" onClick={props.onClear}>
              Show all
            </button>
          )}
        </span>
        <a className="quiet ml-auto whitespace-nowrap" href={`/api/v1/exceptions?${csv.toString()}`}>
          As CSV
        </a>
      </p>
      {!found.isPending && shown.length === 0 ? (
        <p className="px-5">
          {all.length === 0
            ? 'No policy leaves anybody out, and none names a single account.'
            : 'No exception fits what is typed.'}
        </p>
      ) : (
        <div className="flex min-h-0 flex-1 flex-col overflow-x-auto">
          <div className="flex min-h-0 min-w-[800px] flex-1 flex-col">
            <div
              className="text-ink2 border-line2 grid gap-x-3 border-b px-5 pb-1 text-[13px]"
              style={{ gridTemplateColumns: COLUMNS }}
            >
              {(Object.keys(ORDERS) as Order[]).map((name) => (
                <button
                  key={name}
                  className={name === 'Accounts' ? 'text-right' : 'text-left'}
                  aria-label={`Sort by ${name.toLowerCase()}`}
                  onClick={() => setOrder(name)}
                >
                  {name}
                  {order === name && ' ▾'}
                </button>
              ))}
            </div>
            <div ref={box} className="min-h-0 flex-1 overflow-y-auto" role="list" aria-label="Exceptions" tabIndex={0}>
              <div role="presentation" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
                {virtual.getVirtualItems().map((item) => (
                  <Row
                    key={item.key}
                    exception={shown[item.index] as PolicyException}
                    top={item.start}
                    zone={props.zone}
                    chosen={shown[item.index]?.policy === props.chosen}
                    onOpen={props.onOpen}
                  />
                ))}
              </div>
            </div>
          </div>
        </div>
      )}
    </>
  );
}

function Row(props: {
  exception: PolicyException;
  top: number;
  zone: string;
  chosen: boolean;
  onOpen: (policy: string) => void;
}) {
  const { exception, zone } = props;
  const idle = exception.state !== 'holds';
  return (
    <div
      role="listitem"
      className={clsx(
        'border-line absolute inset-x-0 top-0 grid items-center gap-x-3 border-b px-5',
        props.chosen && 'bg-paper shadow-[inset_4px_0_0_var(--decide)]',
        idle && 'text-ink2',
      )}
      style={{ height: ROW, transform: `translateY(${props.top}px)`, gridTemplateColumns: COLUMNS }}
    >
      <button
        className="truncate text-left font-semibold hover:underline"
        aria-label={sentence(exception)}
        title={exception.whom}
        onClick={() => props.onOpen(exception.policy)}
      >
        {exception.whom}
      </button>
      <span className="truncate" title={exception.policyName}>
        <span className="text-ink2">{WORDS[exception.kind]}</span> {exception.policyName}
      </span>
      <span className="text-right">{formatNumber(exception.accounts)}</span>
      <span className="truncate">{windowOf(exception, zone)}</span>
      {exception.made ? (
        <Link className="quiet" to={`/logbook/${exception.made.change}`}>
          {formatInstant(exception.made.at, zone)}
        </Link>
      ) : (
        <span className="text-draft font-semibold">this draft</span>
      )}
      <span className="truncate">{exception.made?.author}</span>
    </div>
  );
}
