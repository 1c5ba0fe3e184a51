import { useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { Refused, answer, api, type Effect, type Problem, type PublishedReceipt, type Ripple } from '../api/client';
import { VirtualRows } from '../frame/VirtualRows';
import { useQuestion, writeQuestion } from '../frame/question';
import { moment } from '../text/dates';
import { count } from '../text/words';
import { Clash } from './Clash';
import { inWords } from './edits';
import { Moves } from './Moves';
import type { Props } from './Publisher';

const EFFECTS: [Effect, string][] = [
  ['lose', 'Lose'],
  ['gain', 'Gain'],
  ['both', 'Gain and lose'],
  ['other', 'Otherwise'],
];

/** The ripple as a page that one reads before it counts: what changes, for whom by name, and the note. */
export function ReadOver(
  props: Props & {
    ripple: Ripple;
    onBack: () => void;
    onMoved: (base: number) => void;
    onDone: (receipt: PublishedReceipt) => void;
  },
) {
  const { ripple } = props;
  const queries = useQueryClient();
  const first = EFFECTS.find(([effect]) => ripple[effect as 'gain'] > 0)?.[0] ?? 'lose';
  const [chosen, setChosen] = useState<Effect>();
  const effect = chosen && ripple[chosen as 'gain'] > 0 ? chosen : first;
  const [note, setNote] = useState('');
  const [sending, setSending] = useState(false);
  const [problem, setProblem] = useState<Problem>();
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  const publish = async () => {
    setSending(true);
    setProblem(undefined);
    try {
      const receipt = (await answer(
        api.POST('/api/v1/changes', { body: { base: props.base, edits: props.planned.map((p) => p.edit), note } }),
      )) as PublishedReceipt;
      props.onDone(receipt);
      await queries.invalidateQueries();
    } catch (error) {
      if (error instanceof Refused) setProblem(error.problem);
      else throw error;
    } finally {
      setSending(false);
    }
  };
  const people = ripple.people.filter((p) => p.effect === effect);
  return (
    <div className="bg-sheet absolute inset-0 z-20 flex flex-col" role="region" aria-label="Read over">
      <div className="border-line border-b px-6 pt-4 pb-3">
        <button className="quiet text-[13px]" onClick={props.onBack}>
          Back to the edits
        </button>
        <h2 ref={heading} tabIndex={-1} className="font-display mt-1 text-[19px] font-semibold outline-none">
          {ripple.accounts === 0
            ? 'No value changes for anybody'
            : `${count(ripple.accounts, 'account')} ${ripple.accounts === 1 ? 'changes' : 'change'}`}
        </h2>
        <p className="text-ink2">
          {props.title}: {inWords(props.planned)}.
          {ripple.decidedElsewhere > 0 &&
            ` For ${count(ripple.decidedElsewhere, 'account')} the value stays and another statement decides, or the standing differs.`}
        </p>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-6 py-3">
        {ripple.moves.length > 0 && <Moves moves={ripple.moves} />}
        {ripple.accounts > 0 && (
          <>
            <div role="group" aria-label="Who" className="mb-2 flex gap-4">
              {EFFECTS.filter(([e]) => ripple[e as 'gain'] > 0).map(([e, word]) => (
                <button
                  key={e}
                  aria-pressed={e === effect}
                  className={clsx(e === effect ? 'border-ink border-b-2 font-semibold' : 'text-ink2')}
                  onClick={() => setChosen(e)}
                >
                  {word} {ripple[e as 'gain'].toLocaleString('en-GB')}
                </button>
              ))}
            </div>
            <People people={people} total={ripple[effect as 'gain']} />
          </>
        )}
      </div>
      {problem && problem.status !== 409 && (
        <div role="alert" className="border-shut border-t-2 px-6 py-2">
          <strong>{problem.detail}</strong>
          <ul>
            {problem.defects?.map((d) => (
              <li key={d.pointer + d.message}>It {d.message}.</li>
            ))}
          </ul>
        </div>
      )}
      {problem?.status === 409 && (
        <Clash
          problem={problem}
          onMine={() => {
            props.onMoved(problem.change ?? props.base);
            setProblem(undefined);
          }}
          onTheirs={props.onDiscard}
        />
      )}
      <form
        className="border-line flex items-center gap-3 border-t px-6 py-3"
        onSubmit={(e) => {
          e.preventDefault();
          void publish();
        }}
      >
        <input
          className="field flex-1"
          aria-label="Note"
          placeholder="Why, in a few words"
          maxLength={4000}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <button
          className="bg-draft h-8 rounded-[3px] px-4 font-semibold text-white disabled:opacity-60"
          disabled={sending}
        >
          {sending ? 'Publishing…' : 'Publish'}
        </button>
      </form>
    </div>
  );
}

/** That it is published, plainly, with its number. */
export function Receipt(props: { receipt: PublishedReceipt; zone: string; onClose: () => void }) {
  const { receipt } = props;
  const [question] = useQuestion();
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  return (
    <div className="bg-sheet absolute inset-0 z-20 px-6 py-6" role="region" aria-label="Receipt">
      <h2 ref={heading} tabIndex={-1} className="font-display text-[19px] font-semibold outline-none">
        Change {receipt.number} is published
      </h2>
      <p className="mt-1">
        {moment(receipt.at, props.zone)}, by {receipt.author}.{' '}
        {receipt.ripple.accounts === 0 ? 'No value changed.' : `${count(receipt.ripple.accounts, 'account')} changed.`}
      </p>
      {receipt.note && <p className="text-ink2 mt-1">“{receipt.note}”</p>}
      <div className="mt-4 flex gap-2">
        {question.who && (
          <Link className="button" to={`/ladder${writeQuestion(question)}`} onClick={props.onClose}>
            See the answer on the ladder
          </Link>
        )}
        <Link className="button" to={`/logbook/${receipt.number}${writeQuestion(question)}`} onClick={props.onClose}>
          Open it in the logbook
        </Link>
        <button className="button" onClick={props.onClose}>
          Close
        </button>
      </div>
    </div>
  );
}

function People({ people, total }: { people: Ripple['people']; total: number }) {
  return (
    <>
      <VirtualRows
        label="People"
        items={people}
        maxHeight="max(300px, calc(100dvh - 410px))"
        row={(person) => {
          const told = person.changes.map((c) => `${c.title}: ${c.from} → ${c.to}`).join('; ');
          return (
            <>
              <span className="w-44 shrink-0 truncate font-semibold">{person.displayName}</span>
              <span className="text-ink2 w-40 shrink-0 truncate">{person.unit}</span>
              <span className="truncate" title={told}>
                {told}
              </span>
            </>
          );
        }}
      />
      <p className="text-ink2 mt-1 text-[13px]">
        {people.length < total
          ? `The first ${people.length.toLocaleString('en-GB')} of ${count(total, 'account')}`
          : count(total, 'account')}
      </p>
    </>
  );
}
