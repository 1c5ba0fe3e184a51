import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, refusalWords, type Climb, type Schemas } from '../api/client';
import { rippleSentence } from '../draft/numbers';
import { useAfter, useDrafting } from '../draft/draft';
import { useQuestion, writeQuestion } from '../question/question';
import { count } from '../text/words';

type Opener = Schemas['OpenerLine'];

/** What opens each closed gate, at most three edits for one, the smallest ripple first. */
export function Openers({ climb }: { climb: Climb }) {
  const [question] = useQuestion();
  const after = useAfter();
  const closed = climb.drawing.gates.some((g) => !g.met);
  const now = question.who?.kind === 'account' && question.when === undefined;
  const found = useQuery({
    queryKey: ['openers', question.who, question.what, question.where, after.key],
    queryFn: () =>
      answer(
        api.GET('/api/v1/openers', {
          params: {
            query: {
              account: question.who?.id ?? '',
              setting: question.what?.id ?? '',
              workspace: question.where?.id,
              ...after.query,
            },
          },
        }),
      ),
    enabled: closed && now,
  });
  if (!closed || !now) return null;
  const gates = found.data?.gates ?? [];
  return (
    <section aria-label="What opens the gates" className="mt-4 max-w-2xl">
      <h2 className="font-display text-[16px] font-semibold">
        {gates.length > 1 ? 'What opens each gate' : 'What opens the gate'}
      </h2>
      {found.isPending && <p className="text-ink2">Each way is tried…</p>}
      {found.isError && <p className="text-shut">{found.error.message}</p>}
      {gates.map((gate) => (
        <div key={gate.gate} className="mt-1">
          {gates.length > 1 && <h3 className="text-ink2 text-[13px]">{gate.need}</h3>}
          {gate.openers.length === 0 && (
            <Unopened on={climb.drawing.gates[gate.gate]?.on} account={climb.drawing.account} />
          )}
          <ul className="border-line border-t empty:border-0" aria-label={gate.need}>
            {gate.openers.map((opener) => (
              <Way key={opener.words} opener={opener} />
            ))}
          </ul>
        </div>
      ))}
      <Link className="quiet mt-1.5 inline-block text-[13px]" to={`/seats${writeQuestion(question, '?list=needed')}`}>
        All that stands in the way, and for others
      </Link>
    </section>
  );
}

/** A gate that no single edit opens; one that looks at another setting leads to the ladder of that. */
function Unopened({ on, account }: { on: Climb['drawing']['gates'][number]['on']; account: string }) {
  const [question] = useQuestion();
  return (
    <p className="text-ink2 border-line border-t py-1.5">
      {on ? (
        <>
          More than one thing keeps it closed: see what keeps{' '}
          <Link className="quiet" to={`/ladder${writeQuestion({ ...question, what: { id: on.setting } })}`}>
            {on.title}
          </Link>{' '}
          away.
        </>
      ) : (
        `No edit opens this one for ${account}.`
      )}
    </p>
  );
}

/** What an opener alters beside the gate, and for whom it is bad. */
export function consequence(opener: Pick<Opener, 'cost' | 'ripple' | 'works' | 'taken'>): string {
  const { ripple } = opener;
  return [
    opener.cost,
    ripple.accounts > 0 ? rippleSentence(ripple) : 'nothing else changes',
    !opener.works && 'another gate stays closed',
  ]
    .filter(Boolean)
    .join(' · ');
}

/** Who loses by it; empty where nobody does. */
export function harm(opener: Pick<Opener, 'ripple' | 'taken'>): string {
  const lose = opener.ripple.lose + opener.ripple.both;
  return [
    ...opener.taken.map((t) => `It takes ${count(t.accounts, 'seat')} of ${t.plan} from others.`),
    ...(lose > 0 ? [`${count(lose, 'account')} ${lose === 1 ? 'loses' : 'lose'} something by it.`] : []),
  ].join(' ');
}

function Way({ opener }: { opener: Opener }) {
  const { stage } = useDrafting();
  const [refusal, setRefusal] = useState('');
  const bad = harm(opener);
  return (
    <li className="border-line flex flex-wrap items-center gap-x-3 gap-y-1 border-b py-1.5">
      <span className="min-w-0 flex-1">
        <strong className="font-semibold">{opener.words}</strong>
        <span className="text-ink2 block text-[13px]">
          {consequence(opener)}
          {bad && <strong className="text-shut block font-semibold">{bad}</strong>}
          {refusal && <span className="text-shut block">{refusal}</span>}
        </span>
      </span>
      <button
        className="button"
        onClick={() => void stage([opener.edit]).then((refused) => setRefusal(refused ? refusalWords(refused) : ''))}
      >
        Stage it
      </button>
    </li>
  );
}
