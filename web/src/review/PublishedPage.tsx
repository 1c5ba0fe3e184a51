import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Problem, PublishedReceipt, Review } from '../api/client';
import { useDraft } from '../draft/draft';
import { impactSentence, impactText, inWorkspacesText } from '../draft/impactText';
import { ValueChanges } from '../parts/ValueChanges';
import { useQuestion, writeQuestion } from '../question/question';
import { copy } from '../text/clipboard';
import { formatInstant } from '../text/dates';
import { formatNumber } from '../text/words';
import { settlingWords } from './settling';
import { Alert } from '../parts/Alert';

/** That a draft is published: what changed for how many, when it will have arrived, what comes later, and where to go from here. */
export function PublishedPage(props: {
  receipt: PublishedReceipt;
  later: Review['later'];
  zone: string;
  from?: string;
}) {
  const { receipt, zone } = props;
  const [question] = useQuestion();
  const navigate = useNavigate();
  const { takeBack } = useDraft();
  const [copied, setCopied] = useState('');
  const [problem, setProblem] = useState<Problem>();
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  const address = `/logbook/${receipt.number}`;
  const link = `${window.location.origin}${address}`;
  const take = async () => {
    setCopied('Copying…');
    setCopied((await copy(`Change ${receipt.number}, ${receipt.note || 'no note'}: ${link}`)) ? 'Copied' : link);
  };
  const words = impactText(receipt.ripple);
  const settling = settlingWords(receipt.settling);
  return (
    <div className="h-full overflow-y-auto px-8 py-7" role="region" aria-label="Receipt">
      <h1 ref={heading} tabIndex={-1} className="font-display text-[22px] font-bold outline-none">
        Change {receipt.number} is published
      </h1>
      <p className="text-ink2 mt-0.5">
        {formatInstant(receipt.at, zone)}, by {receipt.author}.{receipt.note && ` “${receipt.note}”`}
      </p>
      <p className="mt-4 text-[17px]">
        <strong className="font-semibold">{words.head}</strong>
        {receipt.ripple.accounts > 0 && `: ${impactSentence(receipt.ripple)}`}. {inWorkspacesText(receipt.ripple)}
      </p>
      {receipt.ripple.moves.length > 0 && (
        <div className="mt-3">
          <ValueChanges moves={receipt.ripple.moves.slice(0, 8)} />
          {receipt.ripple.moves.length > 8 && (
            <p className="text-ink2 -mt-2 text-[13px]">
              And {formatNumber(receipt.ripple.moves.length - 8)} more, in the logbook.
            </p>
          )}
        </div>
      )}
      {(settling.length > 0 || props.later.length > 0) && (
        <dl className="mb-4 grid max-w-[760px] grid-cols-[110px_1fr] gap-x-4 gap-y-1">
          {settling.length > 0 && (
            <>
              <dt className="text-ink2">Arrives</dt>
              <dd>
                {settling.map((s) => (
                  <span key={s} className="block">
                    {s}.
                  </span>
                ))}
              </dd>
            </>
          )}
          {props.later.length > 0 && (
            <>
              <dt className="text-ink2">Later, by itself</dt>
              <dd>
                {props.later.map((l) => (
                  <span key={l.at} className="block">
                    From {l.when}: {formatNumber(l.more)} more.
                  </span>
                ))}
              </dd>
            </>
          )}
        </dl>
      )}
      {problem && <Alert className="mb-2">{problem.detail}</Alert>}
      <div className="mt-2 flex flex-wrap items-center gap-2">
        {props.from && props.from !== '/ladder' && props.from !== '/review' && (
          <Link className="button" to={`${props.from}${writeQuestion(question)}`}>
            Go back to where you were
          </Link>
        )}
        {question.who && (
          <Link className="button" to={`/ladder${writeQuestion(question)}`}>
            See the answer on the ladder
          </Link>
        )}
        <Link className="button" to={`${address}${writeQuestion(question)}`}>
          Open it in the logbook
        </Link>
        <button className="button" onClick={() => void take()}>
          Copy a link for the ticket
        </button>
        <button
          className="button"
          onClick={() =>
            void takeBack(receipt.number).then((refused) => {
              if (refused) setProblem(refused);
              else
                void navigate(`/review${writeQuestion(question)}`, {
                  state: receipt.number,
                });
            })
          }
        >
          Undo
        </button>
        <span role="status" className="text-ink2 text-[13px]">
          {copied}
        </span>
      </div>
    </div>
  );
}
