import { Link } from 'react-router';
import { useQuestion, writeQuestion } from '../question/question';
import { formatInstant } from '../text/dates';
import { ErrorNotice } from './ErrorNotice';
import { filterText, useLogbook, type LogbookFilter } from './queries';

/** How many changes stand there until one asks for all. */
const SHOWN = 6;

/** The last changes about one thing, and the way to all of them. */
export function History(props: { about: LogbookFilter; zone: string; heading?: string }) {
  const [question] = useQuestion();
  const logbook = useLogbook(props.about, SHOWN);
  const page = logbook.data?.pages[0];
  const all = filterText(props.about);
  const Heading = props.heading === 'h2' ? 'h2' : 'h3';
  return (
    <section aria-label="History">
      <Heading className="font-display mt-5 text-[16px] font-semibold">History</Heading>
      {logbook.isError && <ErrorNotice error={logbook.error} onRetry={() => void logbook.refetch()} />}
      {logbook.isPending && <p className="text-ink2">Looking…</p>}
      {page?.changes.length === 0 && <p className="text-ink2">Nothing was published about it yet.</p>}
      <ol className="border-line mt-1 border-t empty:border-0">
        {page?.changes.map((change) => (
          <li key={change.number} className="border-line border-b py-1">
            <Link className="block hover:underline" to={`/logbook/${change.number}${writeQuestion(question, all)}`}>
              {change.title}
            </Link>
            <span className="text-ink2 text-[13px]">
              {formatInstant(change.at, props.zone)}, {change.author}
            </span>
          </li>
        ))}
      </ol>
      {page?.next && (
        <Link className="quiet mt-1 inline-block text-[13px]" to={`/logbook${writeQuestion(question, all)}`}>
          All changes about it
        </Link>
      )}
    </section>
  );
}
