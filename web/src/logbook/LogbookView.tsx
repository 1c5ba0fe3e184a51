import { useQuery } from '@tanstack/react-query';
import { inWorkspacesText } from '../draft/impactText';
import { usePageTitle } from '../parts/usePageTitle';
import { clsx } from 'clsx';
import { useMemo, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { unwrap, api, type LogbookLine, type PublishedChange, type Session } from '../api/client';
import { filterText, useChange, useLogbook, type LogbookFilter } from '../parts/queries';
import { useDraft } from '../draft/draft';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useSettlingChanges } from '../parts/settling';
import { useQuestion, writeQuestion } from '../question/question';
import { formatInstant } from '../text/dates';
import { count, formatNumber, joinList } from '../text/words';
import { ValueChanges } from '../parts/ValueChanges';
import { Between, Differences } from './Differences';
import { LogbookFilters, readFilter } from './LogbookFilters';

/** How many seats are named until one asks for all. */
const SEATS_SHOWN = 8;

/** Every change, by whom and why; the one that is open with its edits and its ripple as they were. */
export function LogbookView({ session }: { session?: Session }) {
  const { search } = useLocation();
  const filter = useMemo(() => readFilter(search), [search]);
  const logbook = useLogbook(filter);
  const { number } = useParams();
  const change = useChange(number);
  const zone = session?.organisation?.timeZone ?? 'UTC';
  const navigate = useNavigate();
  const [question] = useQuestion();
  const settling = useSettlingChanges();
  const params = new URLSearchParams(search);
  const from = params.get('between') ?? undefined;
  const to = params.get('and') ?? 'now';
  const filtered = filterText(filter);
  const filterBy = (next: LogbookFilter) =>
    void navigate(`/logbook${writeQuestion(question, filterText(next))}`, { replace: true });
  usePageTitle(number ? `Change ${number}` : 'Logbook');
  if (logbook.isError) return <ErrorNotice error={logbook.error} onRetry={() => void logbook.refetch()} />;
  const lines = logbook.data?.pages.flatMap((page) => page.changes) ?? [];
  const onTheWay = new Map(settling.data?.changes.map((c) => [c.number, c]));
  const open = (line: LogbookLine) => void navigate(`/logbook/${line.number}${writeQuestion(question, filtered)}`);
  return (
    <div className="flex h-full min-h-0">
      <section
        aria-label="All changes"
        className={clsx(
          'flex min-w-0 flex-col',
          number || from ? 'border-line w-[44%] max-w-[620px] border-r max-[1023px]:hidden' : 'flex-1',
        )}
      >
        <div className="px-5 pt-4 pb-2">
          <h1 className="font-display text-[18px] font-semibold">Logbook</h1>
          <LogbookFilters
            filter={filter}
            authors={[...new Set(lines.map((line) => line.author))]}
            names={logbook.data?.pages[0]?.about ?? {}}
            zone={zone}
            narrow={number !== undefined || from !== undefined}
            onFilter={filterBy}
          />
          <Between
            zone={zone}
            onAsk={(from, to) => void navigate(`/logbook${writeQuestion(question, `?between=${from}&and=${to}`)}`)}
          />
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={0} role="region" aria-label="Changes">
          <ol className="border-line border-t">
            {lines.map((line) => (
              <li key={line.number} className="border-line border-b">
                <button
                  aria-label={`Change ${line.number}: ${line.title}`}
                  aria-current={String(line.number) === number || undefined}
                  className={clsx(
                    'flex w-full items-baseline gap-4 px-5 py-2 text-left focus-visible:outline-offset-[-2px]',
                    String(line.number) === number && 'bg-paper shadow-[inset_4px_0_0_var(--decide)]',
                  )}
                  onClick={() => open(line)}
                >
                  <span className="text-ink2 w-8 shrink-0 text-right">{line.number}</span>
                  <span className="min-w-0 flex-1">
                    <span className={clsx(line.note && 'font-semibold')}>{line.title}</span>
                    <span className="text-ink2">
                      {' — '}
                      {line.author}, {formatInstant(line.at, zone)}
                    </span>
                    {onTheWay.has(line.number) && (
                      <span className="block text-[13px]">
                        On its way until {formatInstant(onTheWay.get(line.number)?.until ?? '', zone)} at the latest
                      </span>
                    )}
                  </span>
                  <span className="text-ink2 shrink-0">{extent(line)}</span>
                </button>
              </li>
            ))}
          </ol>
          {logbook.isPending && <p className="text-ink2 px-5 py-2">Looking…</p>}
          {logbook.data && lines.length === 0 && (
            <p className="px-5 py-2">
              {Object.keys(filter).length > 0 ? 'No change fits all of that.' : 'Nothing has been published yet.'}
            </p>
          )}
          {logbook.hasNextPage && (
            <button className="button m-4" onClick={() => void logbook.fetchNextPage()}>
              Earlier changes
            </button>
          )}
        </div>
      </section>
      {!number && from && (
        <Differences
          from={from}
          to={to}
          zone={zone}
          onClose={() => void navigate(`/logbook${writeQuestion(question, filtered)}`)}
        />
      )}
      {number &&
        (change.isError ? (
          <div className="min-w-0 flex-1 overflow-y-auto">
            <ErrorNotice error={change.error} onRetry={() => void change.refetch()} />
            <button
              className="button mx-8"
              onClick={() => void navigate(`/logbook${writeQuestion(question, filtered)}`)}
            >
              Close
            </button>
          </div>
        ) : change.data ? (
          <OneChange
            key={change.data.number}
            change={change.data}
            zone={zone}
            onClose={() => void navigate(`/logbook${writeQuestion(question, filtered)}`)}
          />
        ) : (
          <p className="text-ink2 p-6">Looking…</p>
        ))}
    </div>
  );
}

/** For how many something changed. */
function extent(line: LogbookLine): string {
  if (line.accounts === null) return count(line.edits, 'edit');
  if (line.accounts > 0) return `${count(line.accounts, 'account')} changed`;
  return line.workspaces > 0 ? `changed in ${count(line.workspaces, 'workspace')}` : 'no value changed';
}

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

function OneChange({ change, zone, onClose }: { change: PublishedChange; zone: string; onClose: () => void }) {
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
        {refusal && (
          <p role="alert" className="text-shut">
            {refusal}
          </p>
        )}
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
