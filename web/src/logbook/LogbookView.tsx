import { usePageTitle } from '../parts/usePageTitle';
import { clsx } from 'clsx';
import { useMemo } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { type LogbookLine, type Session } from '../api/client';
import { filterText, useChange, useLogbook, type LogbookFilter } from '../parts/queries';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useSettlingChanges } from '../parts/settling';
import { useQuestion, writeQuestion } from '../question/question';
import { formatInstant } from '../text/dates';
import { count } from '../text/words';
import { Between, Differences } from './Differences';
import { LogbookFilters, readFilter } from './LogbookFilters';
import { ChangePage } from './ChangePage';

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
          <div className="mt-1 flex flex-wrap items-baseline gap-x-4">
            <Between
              zone={zone}
              onAsk={(from, to) => void navigate(`/logbook${writeQuestion(question, `?between=${from}&and=${to}`)}`)}
            />
            <a className="quiet text-[13px]" href={`/api/v1/changes${filterText({ ...filter, format: 'csv' })}`}>
              As CSV
            </a>
          </div>
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
              {Object.keys(filter).length > 0 ? 'No change matches these filters.' : 'Nothing has been published yet.'}
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
          <ChangePage
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
