import { Link } from 'react-router';
import { useSettlingChanges, type SettlingChange } from '../parts/settling';
import { useQuestion, writeQuestion } from '../question/question';
import { formatInstant } from '../text/dates';
import { count } from '../text/words';

const SHOWN = 3;

/** What is published and not on every screen yet, drawn to scale from when it was published to when the last of it is there. */
export function SettlingBar({ zone }: { zone: string }) {
  const [question] = useQuestion();
  const settling = useSettlingChanges();
  const { changes = [], until, now } = settling.data ?? {};
  if (changes.length === 0 || !until || !now) return null;
  const begun = Math.min(...changes.map((c) => Date.parse(c.at)));
  const share = (100 * (Date.parse(now) - begun)) / Math.max(1, Date.parse(until) - begun);
  return (
    <div
      role="region"
      aria-label="Settling"
      className="border-line no-print flex items-center gap-3 border-t px-5 py-1 text-[13px]"
    >
      <svg width="64" height="10" aria-hidden className="shrink-0">
        <path d="M.5 0v10M63.5 0v10M0 5h64" stroke="var(--ink2)" />
        <rect x="1" y="2.5" height="5" width={(62 * Math.min(100, Math.max(2, share))) / 100} fill="var(--decide)" />
      </svg>
      <span className="min-w-0 truncate">
        <span className="text-ink2">{count(changes.length, 'change')} on the way to people’s screens: </span>
        {changes.slice(0, SHOWN).map((change, i) => (
          <span key={change.number}>
            {i > 0 && '; '}
            <Link
              className="quiet inline-block max-w-[min(44ch,38vw)] truncate align-bottom"
              title={`${change.note} — ${change.words}`}
              to={`/logbook/${change.number}${writeQuestion({ ...question, when: undefined })}`}
            >
              {change.note || `change ${change.number}`}
            </Link>{' '}
            until {untilWords(change, now, zone)}
          </span>
        ))}
        {changes.length > SHOWN && `; and ${changes.length - SHOWN} more`}
      </span>
    </div>
  );
}

/** "15:00" on the day that it is, "Thu 26 Nov, 09:00" on another. */
export function untilWords(change: Pick<SettlingChange, 'until'>, now: string, zone: string): string {
  const parts = (instant: string) => formatInstant(instant, zone, new Date(now)).split(', ');
  const until = parts(change.until);
  return until[0] === parts(now)[0] ? (until[1] ?? '') : until.join(', ');
}
