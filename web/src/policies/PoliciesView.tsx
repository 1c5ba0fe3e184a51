import { useAddressState } from '../parts/useAddressState';
import { clsx } from 'clsx';
import { usePageTitle } from '../parts/usePageTitle';
import { useMemo, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import type { Session } from '../api/client';
import { PastWarning } from '../parts/PastWarning';
import { usePolicies } from '../parts/queries';
import { useDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useQuestion, writeQuestion } from '../question/question';
import { count } from '../text/words';
import { Compare } from './Compare';
import { Exceptions } from './Exceptions';
import { NewPolicy } from './NewPolicy';
import { PolicySheet } from './PolicySheet';
import { Ranking } from './Ranking';

/** All policies in their ranking, after the draft, and the sheet of the one that is open. */
export function PoliciesView({ session }: { session?: Session }) {
  const policies = usePolicies();
  const { stage, draft } = useDraft();
  const { id } = useParams();
  const { search } = useLocation();
  const [question] = useQuestion();
  const navigate = useNavigate();
  const [fresh, setFresh] = useState(false);
  const [text, setText] = useAddressState<string>('filter', '');
  const other = new URLSearchParams(search).get('beside') ?? undefined;
  const exceptions = new URLSearchParams(search).get('list') === 'exceptions';
  const open = (policy: string | undefined, list = exceptions) => {
    setFresh(false);
    const path = `/policies${policy ? `/${encodeURIComponent(policy)}` : ''}`;
    const kept = new URLSearchParams();
    if (list) kept.set('list', 'exceptions');
    if (text !== '') kept.set('filter', text);
    void navigate(path + writeQuestion(question, `?${kept.toString()}`));
  };
  usePageTitle('Policies');
  const order = useMemo(() => policies.data?.policies ?? [], [policies.data]);
  const words = useMemo(() => text.toLowerCase().split(/\s+/).filter(Boolean), [text]);
  const shown = order.filter((p) =>
    words.every((w) => `${p.name} ${p.for} ${p.description ?? ''}`.toLowerCase().includes(w)),
  );
  const move = (policy: string, to: number) => {
    const others = order.filter((p) => p.id !== policy);
    void stage([{ kind: 'rank-policy', policy, above: others[to]?.id ?? null }]);
  };
  if (policies.isError) return <ErrorNotice error={policies.error} onRetry={() => void policies.refetch()} />;
  const zone = session?.organisation?.timeZone ?? 'UTC';
  const sheetOpen = fresh || id !== undefined;
  return (
    <div className="flex h-full min-h-0">
      <section
        aria-label="All policies"
        className={clsx(
          'relative flex min-w-0 flex-col',
          sheetOpen ? 'border-line w-[40%] max-w-[560px] border-r max-[1023px]:hidden' : 'flex-1',
        )}
      >
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-5 pt-4 pb-2">
          <h1 className="sr-only">Policies</h1>
          <div role="group" aria-label="List" className="flex gap-x-4">
            {([false, true] as const).map((list) => (
              <button
                key={String(list)}
                aria-pressed={list === exceptions}
                className={clsx(
                  'font-display py-1 text-[16px] whitespace-nowrap',
                  list === exceptions ? 'border-ink border-b-2 font-semibold' : 'text-ink2 hover:text-ink',
                )}
                onClick={() => open(id, list)}
              >
                {list ? 'Exceptions' : 'In their ranking'}
              </button>
            ))}
          </div>
          <input
            className="field max-w-56 min-w-28 flex-1"
            aria-label={exceptions ? 'Filter the exceptions' : 'Filter the policies'}
            placeholder="Filter"
            value={text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => e.key === 'Escape' && setText('')}
          />
          <button
            className="button ml-auto"
            onClick={() => {
              open(undefined);
              setFresh(true);
            }}
          >
            New policy
          </button>
        </div>
        <PastWarning />
        {exceptions ? (
          <Exceptions zone={zone} words={words} chosen={id} onOpen={open} onClear={() => setText('')} />
        ) : (
          <>
            <p className="text-ink2 px-5 pb-2 text-[13px]">
              {words.length > 0 ? (
                <>
                  {count(shown.length, 'policy', 'policies')} of {order.length} shown: those that hold “{text}”.{' '}
                  <button className="quiet" onClick={() => setText('')}>
                    Show all
                  </button>
                </>
              ) : (
                <>The first is the strongest. At the same level, the higher-ranked policy wins.</>
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
                  onOpen={open}
                  onMove={move}
                  touched={new Set(draft?.policies)}
                />
              )}
            </div>
          </>
        )}
      </section>
      {fresh ? (
        <NewPolicy onClose={() => open(undefined)} onOpen={open} />
      ) : id !== undefined && other !== undefined ? (
        <Compare
          policies={order}
          left={id}
          right={other}
          zone={zone}
          onRight={(right) =>
            void navigate(
              `/policies/${encodeURIComponent(id)}${writeQuestion(question, right ? `?beside=${encodeURIComponent(right)}` : '')}`,
            )
          }
        />
      ) : id !== undefined ? (
        <PolicySheet
          key={id}
          id={id}
          zone={zone}
          onClose={() => open(undefined)}
          onOpen={open}
          onCompare={() =>
            void navigate(
              `/policies/${encodeURIComponent(id)}${writeQuestion(question, `?beside=${encodeURIComponent(order.find((p) => p.id !== id)?.id ?? id)}`)}`,
            )
          }
        />
      ) : null}
    </div>
  );
}
