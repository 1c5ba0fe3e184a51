import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { unwrap, api, problemOf, type Schemas } from '../api/client';
import { useSession } from '../parts/queries';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useQuestion } from '../question/question';
import { copy, NOT_COPIED } from '../text/clipboard';
import { count } from '../text/words';
import { Calendars } from './Calendars';
import { useArrivals, type RingLine } from './queries';

/** What came lately and what comes, week by week, with who gets it; to be copied into a newsletter. */
export function Arrivals({
  rings,
  track,
  onOpen,
}: {
  rings: RingLine[];
  /** Only what comes on this further track. */
  track?: string;
  onOpen: (setting: string) => void;
}) {
  const [question] = useQuestion();
  const found = useArrivals(question, track);
  const [copied, setCopied] = useState('');
  const [calendars, setCalendars] = useState(false);
  if (found.isError && !found.data) return <ErrorNotice error={found.error} onRetry={() => void found.refetch()} />;
  if (!found.data) return <p className="text-ink2 mt-6">Looking for what arrives…</p>;
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
            onClick={() => void copy(text).then((done) => setCopied(done ? 'Copied' : NOT_COPIED))}
          >
            {copied || 'Copy as text'}
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
                <Arrival key={`${a.setting} ${a.whom}`} arrival={a} onOpen={onOpen} />
              ))}
            </ul>
          </div>
        ))}
      </div>
    </section>
  );
}

/** One opening; where mail is handed over, those who get it can be told while it is still to come. */
function Arrival({ arrival: a, onOpen }: { arrival: Schemas['ArrivalLine']; onOpen: (setting: string) => void }) {
  const session = useSession().data;
  const [telling, setTelling] = useState(false);
  const isToCome = session !== undefined && Date.parse(a.at) > Date.parse(session.now) && a.held === null;
  return (
    <li className="border-line border-b py-1">
      <span className="flex items-baseline gap-3">
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
        {session?.mails && isToCome && a.accounts > 0 && (
          <button
            className="quiet no-print shrink-0 text-[13px]"
            aria-expanded={telling}
            aria-label={`Tell them by mail: ${a.title}`}
            onClick={() => setTelling(!telling)}
          >
            Tell them
          </button>
        )}
        <span className="text-ink2 shrink-0 text-[13px]">{count(a.accounts, 'account')}</span>
      </span>
      {telling && <NoticeForm arrival={a} />}
    </li>
  );
}

/** Writes to those who get a feature by an opening what is coming, and when. */
function NoticeForm({ arrival: a }: { arrival: Schemas['ArrivalLine'] }) {
  const [text, setText] = useState('');
  const telling = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST('/api/v1/releases/{setting}/notices', {
          params: { path: { setting: a.setting } },
          body: { to: a.to, text },
        }),
      ),
  });
  const said = telling.isPending
    ? 'Writing…'
    : telling.data === undefined
      ? problemOf(telling.error)
      : telling.data.written === 0
        ? 'All of them were written to before; nobody is written to twice.'
        : `Written to ${count(telling.data.written, 'person', 'people')}.`;
  return (
    <form
      className="mt-1 mb-2 ml-27 max-w-xl"
      aria-label={`Tell them by mail: ${a.title}`}
      onSubmit={(e) => {
        e.preventDefault();
        telling.mutate();
      }}
    >
      <p className="text-ink2 text-[13px]">
        They read what comes, on which day, how to join where they have to, and the guide. Words of your own stand
        before that.
      </p>
      <textarea
        className="field mt-1 h-auto w-full py-1"
        rows={2}
        aria-label="Words of your own"
        maxLength={4000}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <span className="mt-1 flex flex-wrap items-center gap-3">
        <button className="button" type="submit" disabled={telling.isPending}>
          Mail {count(a.accounts, 'account')}
        </button>
        <span role="status" className="text-ink2 text-[13px]">
          {said}
        </span>
      </span>
    </form>
  );
}
