import { useAddressState } from '../parts/useAddressState';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link } from 'react-router';
import { unwrapAs, api, type Schemas } from '../api/client';
import { useAfterDraft } from '../draft/draft';
import { VirtualRows } from '../parts/VirtualRows';
import { ViewAs } from '../parts/SuitePage';
import { account, useQuestion, writeQuestion } from '../question/question';
import { count, formatNumber } from '../text/words';

/** Everyone a published policy reaches, each with the way in; and those it names and leaves out, with the reason. */
export function PolicyAudience({ policy }: { policy: string }) {
  const after = useAfterDraft();
  const [show, setShow] = useAddressState<'reached' | 'left-out'>('people', 'reached');
  const [q, setQ] = useState('');
  const [question] = useQuestion();
  const found = useQuery({
    queryKey: ['reaches', policy, show, q, after.key],
    queryFn: () =>
      unwrapAs<Schemas['ReachView']>(
        api.GET('/api/v1/policies/{id}/reaches', {
          params: { path: { id: policy }, query: { show, q, limit: 5000, ...after.query } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const people = found.data?.people ?? [];
  if (!found.data)
    return found.isError ? (
      <p className="text-shut mt-6">{found.error.message}</p>
    ) : (
      <p className="text-ink2 mt-6">Looking…</p>
    );
  const total = show === 'reached' ? found.data.reached : found.data.leftOut;
  return (
    <section aria-label="Reaches">
      <h2 className="font-display mt-6 text-[16px] font-semibold">Reaches</h2>
      <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
        <div role="group" aria-label="Whom to show" className="flex gap-4">
          {(
            [
              ['reached', `Reached ${formatNumber(found.data.reached)}`],
              ['left-out', `Excluded ${formatNumber(found.data.leftOut)}`],
            ] as const
          ).map(([which, label]) => (
            <button
              key={which}
              aria-pressed={show === which}
              className={clsx(show === which ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink')}
              onClick={() => setShow(which)}
            >
              {label}
            </button>
          ))}
        </div>
        <input
          className="field ml-auto w-44"
          aria-label="Find in this list"
          placeholder="Find by name"
          value={q}
          onChange={(e) => setQ(e.target.value)}
        />
      </div>
      {people.length === 0 ? (
        <p className="text-ink2 mt-2">
          {q !== ''
            ? `Nobody here is called “${q}”.`
            : show === 'reached'
              ? 'It reaches nobody now.'
              : 'Nobody whom it names is left out.'}
        </p>
      ) : (
        <div className="mt-2">
          <VirtualRows
            label="Accounts"
            items={people}
            maxHeight="300px"
            row={(person) => (
              <>
                <Link
                  className="w-44 shrink-0 truncate font-semibold hover:underline"
                  to={`/ladder${writeQuestion({ ...question, who: account(person.account) })}`}
                >
                  {person.displayName}
                </Link>
                <ViewAs id={person.account} name={person.displayName} />
                <span className="text-ink2 w-40 shrink-0 truncate">{person.unit}</span>
                <span className="truncate" title={person.reason ?? `by ${person.way}`}>
                  {person.reason ?? `by ${person.way}`}
                </span>
              </>
            )}
          />
        </div>
      )}
      <p className="text-ink2 mt-1 text-[13px]">
        {found.data.fitting < total
          ? `${count(found.data.fitting, 'account')} of ${formatNumber(total)} shown: those called “${q}”.`
          : people.length < total
            ? `The first ${formatNumber(people.length)} of ${count(total, 'account')}.`
            : `${count(total, 'account')}.`}{' '}
        <a
          className="quiet"
          href={`/api/v1/policies/${encodeURIComponent(policy)}/reaches?${new URLSearchParams({ show, format: 'csv', ...(after.query.draft ? { draft: String(after.query.draft) } : {}) }).toString()}`}
        >
          As CSV
        </a>
      </p>
    </section>
  );
}
