import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { unwrapAs, api, type Edit, type Schemas } from '../api/client';
import { account, useQuestion, writeQuestion } from '../question/question';
import { now } from '../text/clock';
import { formatInstant } from '../text/dates';
import { useCurrentQuery } from './queries';

type FeedbackLine = Schemas['FeedbackLine'];

/** Of one release, or by one person. */
type About = { release: string } | { account: string };

const FOUND: Record<string, string> = { works: 'works', fails: 'does not work', idea: 'an idea' };

/** What was found of a release, or by a person, the newest first; and where it is as a file. */
export function useFeedback(about: About) {
  const [question] = useQuestion();
  const asked = useCurrentQuery(question);
  const found = useQuery({
    queryKey: ['feedback', about, asked.key],
    queryFn: () =>
      unwrapAs<Schemas['FeedbackList']>(
        api.GET('/api/v1/feedback', { params: { query: { ...asked.query, ...about } } }),
      ),
    placeholderData: (before, query) =>
      JSON.stringify(query?.queryKey[1]) === JSON.stringify(about) ? before : undefined,
  });
  return { found, file: `/api/v1/feedback?${new URLSearchParams({ ...about, format: 'csv' }).toString()}` };
}

/** One word of somebody on a release: read, and marked as dealt with. */
export function FeedbackButtons(props: {
  line: FeedbackLine;
  zone: string;
  /** Whether it stands among words of the same person, so that the release is named. */
  byPerson?: boolean;
  onEdit: (edits: Edit[]) => Promise<boolean>;
}) {
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
        {props.byPerson && `${line.title}: `}
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
          {props.byPerson ? 'See the ladder' : line.displayName}
        </Link>
        {line.device && <span>{line.device}</span>}
        <span>{formatInstant(line.at, props.zone)}</span>
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
            deal({ at: now(), ...(note.trim() === '' ? {} : { note: note.trim() }) });
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
