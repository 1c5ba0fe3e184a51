import { type Schemas } from '../api/client';
import { impactSentence } from '../draft/impactText';
import { count } from '../text/words';
import { useStaging } from './useStaging';

type GateRemedy = Schemas['GateRemedyLine'];

/** What an remedy alters beside the gate, and for whom it is bad. */
export function consequenceText(remedy: Pick<GateRemedy, 'cost' | 'ripple' | 'works' | 'taken'>): string {
  const { ripple } = remedy;
  return [
    remedy.cost,
    ripple.accounts > 0 ? impactSentence(ripple) : 'nothing else changes',
    !remedy.works && 'another gate stays closed',
  ]
    .filter(Boolean)
    .join(' · ');
}

/** Who loses by it; empty where nobody does. */
export function lossText(remedy: Pick<GateRemedy, 'ripple' | 'taken'>): string {
  const lose = remedy.ripple.lose + remedy.ripple.both;
  return [
    ...remedy.taken.map((t) => `It takes ${count(t.accounts, 'seat')} of ${t.plan} from others.`),
    ...(lose > 0 ? [`${count(lose, 'account')} ${lose === 1 ? 'loses' : 'lose'} something by it.`] : []),
  ].join(' ');
}

/** An edit that opens a gate, what else it alters, and its staging. */
export function GateRemedyOption({ remedy }: { remedy: GateRemedy }) {
  return (
    <ChangeOption words={remedy.words} says={consequenceText(remedy)} harm={lossText(remedy)} edit={remedy.edit} />
  );
}

/** An edit, what it alters, for whom it is bad, and its staging. */
export function ChangeOption(props: {
  words: string;
  says: string;
  harm?: string;
  edit: GateRemedy['edit'];
  onStaged?: () => void;
}) {
  const [stage, refusal] = useStaging('');
  return (
    <li className="border-line flex flex-wrap items-center gap-x-3 gap-y-1 border-b py-1.5">
      <span className="min-w-0 flex-1">
        <strong className="font-semibold">{props.words}</strong>
        <span className="text-ink2 block text-[13px]">
          {props.says}
          {props.harm && <strong className="text-shut block font-semibold">{props.harm}</strong>}
          {refusal}
        </span>
      </span>
      <button className="button" onClick={() => void stage([props.edit]).then((done) => done && props.onStaged?.())}>
        Add to draft
      </button>
    </li>
  );
}
