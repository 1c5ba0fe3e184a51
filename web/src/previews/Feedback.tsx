import { useState } from 'react';
import { Link } from 'react-router';
import type { Edit } from '../api/client';
import { Trouble } from '../parts/Trouble';
import { account, useQuestion, writeQuestion } from '../question/question';
import { moment } from '../text/dates';
import { count } from '../text/words';
import { useFeedback, type FeedbackLine, type ReleaseLine } from './queries';

const FOUND: Record<string, string> = { works: 'works', fails: 'does not work', idea: 'an idea' };

/** What people found, in numbers. */
export function foundWords(f: ReleaseLine['feedback']): string {
  const found = [f.works > 0 && `works for ${f.works}`, f.fails > 0 && `does not for ${f.fails}`].filter(Boolean);
  const all = [found.length > 0 && `It ${found.join(' and ')}`, f.ideas > 0 && count(f.ideas, 'idea')].filter(Boolean);
  if (all.length === 0) return 'Nobody has said anything yet';
  return `${all.join(', ')}; ${f.open > 0 ? `${f.open} not dealt with` : 'all dealt with'}`;
}

/** What people found of a release: read, and marked as dealt with. */
export function Feedback(props: { release: ReleaseLine; zone: string; onEdit: (edits: Edit[]) => Promise<boolean> }) {
  const { release, zone } = props;
  const [question] = useQuestion();
  const { found, file } = useFeedback(release.setting, question);
  const lines = found.data?.feedback ?? [];
  return (
    <section aria-label="Feedback">
      <h3 className="font-display mt-5 flex items-baseline text-[16px] font-semibold">
        Feedback
        {lines.length > 0 && (
          <a className="quiet ml-auto text-[13px] font-normal" href={file}>
            As CSV
          </a>
        )}
      </h3>
      <p className="text-ink2">{foundWords(release.feedback)}.</p>
      {found.isError && <Trouble error={found.error} onRetry={() => void found.refetch()} />}
      <ul className="max-h-96 overflow-y-auto">
        {lines.map((line) => (
          <Line key={line.id} line={line} zone={zone} onEdit={props.onEdit} />
        ))}
      </ul>
    </section>
  );
}

function Line(props: { line: FeedbackLine; zone: string; onEdit: (edits: Edit[]) => Promise<boolean> }) {
  const { line } = props;
  const [question] = useQuestion();
  const [note, setNote] = useState<string>();
  const deal = (dealt: { at: string; note?: string } | null) => {
    setNote(undefined);
    void props.onEdit([{ kind: 'amend-feedback', feedback: line.id, members: { dealt } }]);
  };
  return (
    <li className="border-line border-b py-1.5">
      <p>
        <strong className="font-semibold">
          {line.verdict === 'idea' ? 'An idea' : `It ${FOUND[line.verdict] ?? line.verdict}`}
        </strong>
        {line.text && `: ${line.text}`}
      </p>
      <p className="text-ink2 flex flex-wrap items-baseline gap-x-3 text-[13px]">
        <Link
          className="hover:underline"
          to={`/ladder${writeQuestion({ ...question, who: account(line.account), what: { id: line.release } })}`}
        >
          {line.displayName}
        </Link>
        {line.device && <span>{line.device}</span>}
        <span>{moment(line.at, props.zone)}</span>
        {line.dealt === null ? (
          <button
            className="quiet ml-auto"
            aria-label={`Deal with the word of ${line.displayName}`}
            onClick={() => setNote('')}
          >
            Dealt with
          </button>
        ) : (
          <>
            <span className="ml-auto">dealt with{line.answer && `: ${line.answer}`}</span>
            <button className="quiet" onClick={() => deal(null)}>
              Open again
            </button>
          </>
        )}
      </p>
      {note !== undefined && (
        <form
          className="mt-1 flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            deal({ at: new Date().toISOString(), ...(note.trim() === '' ? {} : { note: note.trim() }) });
          }}
        >
          <input
            className="field min-w-0 flex-1"
            aria-label="What was done about it"
            placeholder="What was done about it, if you like"
            autoFocus
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
          <button className="button">Mark it</button>
        </form>
      )}
    </li>
  );
}
