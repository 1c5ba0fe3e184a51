import { draftOf, useQuestion } from '../question/question';
import { formatInstant } from '../text/dates';
import { useSession } from './queries';

/** Where what is edited stands beside a question about another instant: says that this is what stands now. */
export function PastWarning() {
  const [question, ask] = useQuestion();
  const zone = useSession().data?.organisation?.timeZone ?? 'UTC';
  if (question.when === undefined || draftOf(question.when) !== undefined) return null;
  return (
    <p role="note" className="bg-paper border-line mx-5 mb-2 border-l-4 px-3 py-1.5 text-[13px]">
      This is what stands now, to be edited. The question asks about {formatInstant(question.when, zone)}: the Ladder
      tells how things stand then.{' '}
      <button className="quiet" onClick={() => ask({ ...question, when: undefined })}>
        Ask about now
      </button>
    </p>
  );
}
