import { useQuery } from '@tanstack/react-query';
import { inWorkspacesText } from '../draft/impactText';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { unwrap, api, type PublishedChange } from '../api/client';
import { useDraft } from '../draft/draft';
import { useSettlingChanges } from '../parts/settling';
import { useQuestion, writeQuestion } from '../question/question';
import { formatInstant } from '../text/dates';
import { count, formatNumber, joinList } from '../text/words';
import { ValueChanges } from '../parts/ValueChanges';
import { Alert } from '../parts/Alert';

/** How many seats are named until one asks for all. */
const SEATS_SHOWN = 8;

/** The seats that a change moved, each with the reason. */
function SeatsOf({ change }: { change: number }) {
  const [all, setAll] = useState(false);
  const seats = useQuery({
    queryKey: ['change seats', change],
    queryFn: () => unwrap(api.GET('/api/v1/changes/{number}/seats', { params: { path: { number: change } } })),
    staleTime: Infinity,
  });
  const moves = seats.data?.moves ?? [];
  if (moves.length === 0) return null;
  const given = moves.filter((m) => m.given).length;
  return (
    <>
      <h3 className="font-display mt-5 text-[16px] font-semibold">Seats</h3>
      <p className="text-ink2">
        {joinList(
          [
            moves.length > given ? `${count(moves.length - given, 'seat')} returned` : '',
            given > 0 ? `${count(given, 'seat')} given` : '',
          ].filter(Boolean),
        )}
        .
      </p>
      <ul className="border-line mt-1 border-t">
        {moves.slice(0, all ? undefined : SEATS_SHOWN).map((m) => (
          <li key={`${m.plan}${m.account}${m.given}`} className="border-line border-b py-1">
            <strong className="font-semibold">{m.displayName}</strong> {m.given ? 'was given' : 'gave back'} a seat of{' '}
            {m.planName}
            {m.because && <span className="text-ink2">, because {m.because}</span>}
          </li>
        ))}
      </ul>
      {moves.length > SEATS_SHOWN && (
        <button className="quiet mt-1 text-[13px]" onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `All ${moves.length}`}
        </button>
      )}
    </>
  );
}

/** A change with its edits, the seats that it moved and its ripple as they were, and the ways to undo it. */
export function ChangePage({ change, zone, onClose }: { change: PublishedChange; zone: string; onClose: () => void }) {
  const drafting = useDraft();
  const navigate = useNavigate();
  const [question] = useQuestion();
  const settling = useSettlingChanges().data?.changes.find((c) => c.number === change.number);
  const [refusal, setRefusal] = useState('');
  const takeBack = async (edit?: number) => {
    setRefusal('');
    const problem = await drafting.takeBack(change.number, edit);
    if (problem) setRefusal(problem.detail);
    else void navigate(`/review${writeQuestion(question)}`);
  };
  return (
    <section aria-label={`Change ${change.number}`} className="relative flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="min-h-0 flex-1 overflow-y-auto px-6 pt-4 pb-8">
        <div className="flex items-start gap-3">
          <h2 className="font-display min-w-0 flex-1 text-[19px] font-semibold">
            {change.note || change.words[0] || `Change ${change.number}`}
          </h2>
          <button className="button" onClick={() => void takeBack()}>
            Undo
          </button>
          <button className="button" onClick={onClose}>
            Close
          </button>
        </div>
        <Alert>{refusal}</Alert>
        <p className="text-ink2">
          Change {change.number}, {formatInstant(change.at, zone)}, by {change.author}
          {!change.proven && ' (name not verified)'}
          {change.planned &&
            (change.late
              ? `. It was to publish itself on ${formatInstant(change.planned, zone)} and came late: the server was not running`
              : '. It published itself')}
        </p>
        {settling && <p className="border-decide mt-2 border-l-4 pl-3">{settling.words}</p>}
        <h3 className="font-display mt-5 text-[16px] font-semibold">Edits</h3>
        <ul className="border-line mt-1 border-t">
          {change.words.map((words, i) => (
            <li key={i} className="border-line group flex items-baseline gap-3 border-b py-1">
              <span className="min-w-0 flex-1">{words}</span>
              {change.edits.length > 1 && (
                <button className="quiet shrink-0 text-[13px]" onClick={() => void takeBack(i)}>
                  Undo this
                </button>
              )}
            </li>
          ))}
        </ul>
        <SeatsOf change={change.number} />
        <h3 className="font-display mt-5 text-[16px] font-semibold">Effect when published</h3>
        {change.ripple === null ? (
          <p className="text-ink2">It was not worked out: the whole estate was replaced.</p>
        ) : change.ripple.accounts === 0 ? (
          <p className="text-ink2">
            {change.ripple.inWorkspaces.length > 0
              ? `No value changed outside workspaces. ${inWorkspacesText(change.ripple)}`
              : 'No value changed for anybody.'}
            {change.ripple.decidedElsewhere > 0 &&
              ` For ${count(change.ripple.decidedElsewhere, 'account')} another statement came to decide.`}
          </p>
        ) : (
          <>
            <p className="mb-2">
              {count(change.ripple.accounts, 'account')} changed:{' '}
              {joinList(
                (
                  [
                    [change.ripple.gain, 'gained'],
                    [change.ripple.lose, 'lost'],
                    [change.ripple.both, 'gained and lost'],
                    [change.ripple.other, 'other changes'],
                  ] as const
                )
                  .filter(([n]) => n > 0)
                  .map(([n, what]) => `${formatNumber(n)} ${what}`),
              )}
              . {inWorkspacesText(change.ripple)}
            </p>
            <ValueChanges moves={change.ripple.moves} />
          </>
        )}
      </div>
    </section>
  );
}
