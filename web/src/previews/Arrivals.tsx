import { useState } from 'react';
import { useQuestion } from '../question/question';
import { count } from '../text/words';
import { Calendars } from './Calendars';
import { useArrivals, type RingLine } from './queries';

/** What came lately and what comes, week by week, with who gets it; to be copied into a newsletter. */
export function Arrivals({ rings, onOpen }: { rings: RingLine[]; onOpen: (setting: string) => void }) {
  const [question] = useQuestion();
  const found = useArrivals(question);
  const [copied, setCopied] = useState(false);
  const [calendars, setCalendars] = useState(false);
  if (!found.data) return null;
  const { weeks, text, whom } = found.data;
  return (
    <section aria-label="Arrivals">
      <h2 className="font-display mt-6 flex items-baseline text-[16px] font-semibold">
        {whom === null ? 'Arrivals' : `Arrivals for ${whom}`}
        <span className="ml-auto flex gap-4 text-[13px] font-normal">
          <button className="quiet" aria-expanded={calendars} onClick={() => setCalendars(!calendars)}>
            As a calendar
          </button>
          <button className="quiet" onClick={() => window.print()}>
            Print
          </button>
          <button
            className="quiet"
            onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}
          >
            {copied ? 'Copied' : 'Copy as text'}
          </button>
        </span>
      </h2>
      {calendars && <Calendars rings={rings} onClose={() => setCalendars(false)} />}
      {weeks.length === 0 && (
        <p className="text-ink2">Nothing came in the last two weeks, and nothing comes in the next six.</p>
      )}
      <div className="mt-1 gap-x-10 min-[1500px]:columns-2">
        {weeks.map((week) => (
          <div key={week.begins} className="break-inside-avoid pb-3">
            <h3 className="text-ink2 text-[13px]">{week.words}</h3>
            <ul className="border-line border-t">
              {week.arrivals.map((a) => (
                <li key={`${a.setting} ${a.whom}`} className="border-line flex items-baseline gap-3 border-b py-1">
                  <span className="text-ink2 w-24 shrink-0 whitespace-nowrap">{a.day}</span>
                  <button
                    className="min-w-0 truncate text-left font-semibold hover:underline"
                    title={a.title}
                    onClick={() => onOpen(a.setting)}
                  >
                    {a.title}
                  </button>
                  <span className="min-w-0 flex-1 truncate">
                    {a.ring === null ? 'early to' : 'to'} {a.whom}
                    {a.planned && <span className="text-ink2">, {a.held === null ? 'planned' : 'held'}</span>}
                  </span>
                  <span className="text-ink2 shrink-0 text-[13px]">{count(a.accounts, 'account')}</span>
                </li>
              ))}
            </ul>
          </div>
        ))}
      </div>
    </section>
  );
}
