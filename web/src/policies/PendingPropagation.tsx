import { Link } from 'react-router';
import { useSettlingChanges } from '../parts/settling';
import { useQuestion, writeQuestion } from '../question/question';

/** The changes of a policy that are not on every screen yet, each with when it is there; nothing where all of them are. */
export function PendingPropagation({ policy }: { policy: string }) {
  const [question] = useQuestion();
  const changes = useSettlingChanges(policy).data?.changes ?? [];
  if (changes.length === 0) return null;
  return (
    <ul className="border-decide mt-3 border-l-4 pl-3" aria-label="On the way to people’s screens">
      {changes.map((change) => (
        <li key={change.number}>
          <Link
            className="quiet inline-block max-w-full truncate align-bottom"
            title={change.note}
            to={`/logbook/${change.number}${writeQuestion({ ...question, when: undefined })}`}
          >
            {change.note || `Change ${change.number}`}
          </Link>
          {' — '}
          {change.words}
        </li>
      ))}
    </ul>
  );
}
