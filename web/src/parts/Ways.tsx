import { useState } from 'react';
import { refusalWords, type Schemas } from '../api/client';
import { useDrafting } from '../draft/draft';
import { rippleSentence } from '../draft/numbers';
import { count } from '../text/words';

type Opener = Schemas['OpenerLine'];

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

/** An edit that opens a gate, what else it alters, and its staging. */
export function OpenerWay({ opener }: { opener: Opener }) {
  return <Way words={opener.words} says={consequence(opener)} harm={harm(opener)} edit={opener.edit} />;
}

/** An edit, what it alters, for whom it is bad, and its staging. */
export function Way(props: {
  words: string;
  says: string;
  harm?: string;
  edit: Opener['edit'];
  onStaged?: () => void;
}) {
  const { stage } = useDrafting();
  const [refusal, setRefusal] = useState('');
  return (
    <li className="border-line flex flex-wrap items-center gap-x-3 gap-y-1 border-b py-1.5">
      <span className="min-w-0 flex-1">
        <strong className="font-semibold">{props.words}</strong>
        <span className="text-ink2 block text-[13px]">
          {props.says}
          {props.harm && <strong className="text-shut block font-semibold">{props.harm}</strong>}
          {refusal && <span className="text-shut block">{refusal}</span>}
        </span>
      </span>
      <button
        className="button"
        onClick={() =>
          void stage([props.edit]).then((refused) => {
            setRefusal(refused ? refusalWords(refused) : '');
            if (!refused) props.onStaged?.();
          })
        }
      >
        Stage it
      </button>
    </li>
  );
}
