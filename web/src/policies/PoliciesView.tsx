import { clsx } from 'clsx';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { Session } from '../api/client';
import { usePolicies } from '../api/queries';
import { Trouble } from '../frame/Trouble';
import { useQuestion, writeQuestion } from '../frame/question';
import { count } from '../text/words';
import { BLANK, type Fresh, type Planned } from './edits';
import { PolicySheet } from './PolicySheet';
import { Publisher } from './Publisher';
import { Ranking, moved } from './Ranking';

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
              setFresh({ sheet: BLANK });
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
