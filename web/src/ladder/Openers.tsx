import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, refusalWords, type Climb, type Edit, type Ripple, type Schemas } from '../api/client';
import { rippleSentence } from '../draft/numbers';
import { useAfter, useDrafting } from '../draft/draft';
import { useSession } from '../parts/queries';
import { useQuestion, whoText, writeQuestion } from '../question/question';
import { amount, count } from '../text/words';

const MOST = 3;

type Offer = Schemas['PlanOffer'];

/** The ways that open a closed gate of licences, at most three, each with its ripple before anything is chosen. */
export function Openers({ climb }: { climb: Climb }) {
  const [question] = useQuestion();
  const after = useAfter();
  const closed = climb.drawing.gates.some((g) => !g.met);
  const licence = climb.gates.some((g) => !g.met && 'entitlement' in g.need);
  const needed = useQuery({
    queryKey: ['needed', question.who, question.what, 'ways', after.key],
    queryFn: () =>
      answer(
        api.GET('/api/v1/needed', {
          params: {
            query: {
              who: question.who ? whoText(question.who) : '',
              setting: question.what?.id ?? '',
              ...after.query,
            },
          },
        }),
      ),
    enabled: closed && licence && question.who?.kind === 'account' && question.when === undefined,
  });
  if (!closed || !licence || question.when !== undefined) return null;
  const offers = (needed.data?.offers ?? []).filter((o) => o.edit).slice(0, MOST);
  return (
    <section aria-label="What opens the gate" className="mt-4 max-w-2xl">
      <h2 className="font-display text-[16px] font-semibold">What opens the gate</h2>
      {needed.data && offers.length === 0 && (
        <p className="text-ink2">
          No seat does it: no plan that runs carries what is needed and is for accounts of this kind.
        </p>
      )}
      <ul className="border-line mt-1 border-t empty:border-0">
        {offers.map((offer) => (
          <Way key={offer.plan} offer={offer} />
        ))}
      </ul>
      <Link className="quiet mt-1.5 inline-block text-[13px]" to={`/seats${writeQuestion(question, '?list=needed')}`}>
        All that stands in the way, and for others
      </Link>
    </section>
  );
}

function Way({ offer }: { offer: Offer }) {
  const { stage } = useDrafting();
  const session = useSession();
  const [refusal, setRefusal] = useState('');
  const base = session.data?.change ?? 0;
  const ripple = useQuery<Ripple>({
    queryKey: ['way ripple', offer.plan, base, JSON.stringify(offer.edit)],
    queryFn: () =>
      answer(
        api.POST('/api/v1/changes', {
          params: { query: { preview: true, limit: 1 } },
          body: { base, edits: [offer.edit as Edit] },
        }),
      ) as Promise<Ripple>,
    enabled: base > 0,
  });
  return (
    <li className="border-line flex flex-wrap items-center gap-x-3 gap-y-1 border-b py-1.5">
      <span className="min-w-0 flex-1">
        <strong className="font-semibold">
          {offer.shortBy > 0 ? `Buy a seat of ${offer.name} and give it` : `Give a seat of ${offer.name}`}
        </strong>
        <span className="text-ink2 block text-[13px]">
          {offer.shortBy > 0
            ? offer.cost && offer.price
              ? `${amount(offer.cost)} ${offer.price.currency} a ${offer.price.per}; none is free`
              : 'None is free'
            : `${count(offer.free, 'seat')} ${offer.free === 1 ? 'is' : 'are'} free`}
          {ripple.data && ` · ${ripple.data.accounts === 0 ? 'changes nothing else' : rippleSentence(ripple.data)}`}
          {refusal && <span className="text-shut block">{refusal}</span>}
        </span>
      </span>
      <button
        className="button"
        onClick={() =>
          void stage([offer.edit as Edit]).then((refused) => setRefusal(refused ? refusalWords(refused) : ''))
        }
      >
        Stage it
      </button>
    </li>
  );
}
