import { useQuery } from '@tanstack/react-query';
import { usePageTitle } from '../parts/usePageTitle';
import { Popover } from 'radix-ui';
import { Fragment, useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { unwrap, api, type Schemas, type Session } from '../api/client';
import { FreeTextSearch } from '../parts/FreeTextSearch';
import { DateField } from '../parts/DateField';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../text/words';
import { DONE, markVisited, isSnoozed, lastVisit, useSnoozed, useName, type Snoozed } from './snooze';
import { RequestSheet } from './RequestSheet';
import { PopoverPanel } from '../parts/PopoverPanel';
import { DAY_MS } from '../text/dates';

type Matter = Schemas['TodoItem'];
type Topic = Matter['topic'];

const TOPICS: [Topic, string][] = [
  ['setup', 'Still missing'],
  ['request', 'Requests'],
  ['check', 'Has not arrived'],
  ['seats', 'Seats'],
  ['preview', 'Previews'],
  ['opening', 'Opens this week'],
  ['planned', 'Planned'],
  ['ending', 'Ends soon'],
  ['review', 'To be looked at again'],
  ['catalogue', 'The catalogue'],
  ['settling', 'On its way'],
  ['arrived', 'Has arrived'],
  ['happened', 'Since you were here'],
];
const SHOWN = 4;

/** The first page: what waits for a decision, in sentences, the most urgent first. */
export function TodayView({ session }: { session?: Session }) {
  const { id } = useParams();
  const [name, setName] = useName(session?.author ?? '');
  const since = lastVisit(name);
  const today = useQuery({
    queryKey: ['today', since],
    queryFn: () => unwrap(api.GET('/api/v1/today', { params: { query: { since } } })),
    enabled: session !== undefined,
    refetchInterval: 15_000,
  });
  const [away, put, bring] = useSnoozed(name);
  usePageTitle('Today');
  useEffect(() => {
    if (name !== '' && today.data) markVisited(name);
  }, [name, today.data]);
  return (
    <div className="flex h-full min-h-0">
      <div className="min-w-0 flex-1 overflow-y-auto px-8 pt-6 pb-10" role="region" aria-label="Today" tabIndex={0}>
        <div className="mx-auto max-w-[960px]">
          <div className="max-w-[640px]">
            <FreeTextSearch large />
          </div>
          {today.isError ? (
            <ErrorNotice error={today.error} onRetry={() => void today.refetch()} />
          ) : today.data ? (
            <Matters
              today={today.data}
              away={away}
              put={put}
              zone={session?.organisation?.timeZone ?? 'UTC'}
              chosen={id}
            />
          ) : (
            <p className="text-ink2 mt-6">Looking what waits…</p>
          )}
          <Foot
            name={name}
            onName={setName}
            away={away}
            matters={today.data?.matters ?? []}
            now={Date.parse(today.data?.now ?? '')}
            bring={bring}
          />
        </div>
      </div>
      {id && <RequestSheet key={id} id={Number(id)} />}
    </div>
  );
}

function Matters(props: {
  today: Schemas['Today'];
  away: Snoozed;
  put: (key: string, until: string) => void;
  zone: string;
  chosen: string | undefined;
}) {
  const { today, away, put } = props;
  const now = Date.parse(today.now);
  const waiting = today.matters.filter((m) => !isSnoozed(away, m.key, now));
  const day = new Intl.DateTimeFormat('en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    timeZone: props.zone,
  }).format(now);
  return (
    <>
      <h1 className="font-display mt-6 text-[24px] font-bold">{day}</h1>
      <p className="text-ink2">
        {waiting.length === 0
          ? today.next
            ? `Nothing waits for you. What comes next: ${today.next}`
            : 'Nothing waits for you, and nothing is on its way.'
          : `${count(waiting.length, 'thing')} to know, the most urgent first.`}
      </p>
      {/* One grid for all, so that the sentences begin in one line. */}
      <div className="@container mt-4">
        <div className="grid grid-cols-[130px_minmax(0,1fr)] gap-x-6 @max-[34rem]:grid-cols-1">
          {TOPICS.map(([topic, title]) => {
            const these = waiting.filter((m) => m.topic === topic);
            return (
              these.length > 0 && (
                <Fragment key={topic}>
                  <h2 className="text-ink2 border-line border-t pt-2 text-[13px] font-semibold">{title}</h2>
                  <Group title={title} matters={these} put={put} zone={props.zone} now={now} chosen={props.chosen} />
                </Fragment>
              )
            );
          })}
        </div>
      </div>
    </>
  );
}

function Group(props: {
  title: string;
  matters: Matter[];
  put: (key: string, until: string) => void;
  zone: string;
  now: number;
  chosen: string | undefined;
}) {
  const [all, setAll] = useState(false);
  // A single one more takes no more room than the words that say so.
  const shown = all || props.matters.length === SHOWN + 1 ? props.matters : props.matters.slice(0, SHOWN);
  const more = props.matters.length - shown.length;
  return (
    <ul className="border-line border-t" aria-label={props.title}>
      {shown.map((m) => (
        <li
          key={m.key}
          className="border-line group relative flex flex-wrap items-baseline gap-x-3 border-b py-2 last:border-b-0 @max-[34rem]:border-b-0"
        >
          {m.leads === '' ? (
            <span className="min-w-[min(100%,18rem)] flex-1 text-[16px]">{m.words}</span>
          ) : (
            <Link
              className="min-w-[min(100%,18rem)] flex-1 text-[16px] hover:underline aria-[current]:font-semibold"
              aria-current={props.chosen !== undefined && m.leads.endsWith(`/${props.chosen}`) ? 'true' : undefined}
              to={m.leads}
            >
              {m.words}
            </Link>
          )}
          {/* Quiet until one is at the line, and then on its lower edge, where no word is covered; a finger has no hover. */}
          <span className="text-ink2 bg-sheet border-line pointer-events-none absolute top-full right-0 z-10 flex shrink-0 -translate-y-1/2 gap-2 rounded border px-2 text-[13px] leading-[20px] opacity-0 group-focus-within:pointer-events-auto group-focus-within:opacity-100 group-hover:pointer-events-auto group-hover:opacity-100 has-[[data-state=open]]:pointer-events-auto has-[[data-state=open]]:opacity-100 pointer-coarse:pointer-events-auto pointer-coarse:static pointer-coarse:translate-none pointer-coarse:border-0 pointer-coarse:px-0 pointer-coarse:opacity-100">
            <PutOff words="until tomorrow" matter={m} onPress={() => props.put(m.key, tomorrow(props.now))} />
            <PutOff words="next week" matter={m} onPress={() => props.put(m.key, nextWeek(props.now))} />
            <PutOffUntil matter={m} zone={props.zone} onChoose={(until) => props.put(m.key, until)} />
            <PutOff words="mark as done" matter={m} onPress={() => props.put(m.key, DONE)} />
          </span>
        </li>
      ))}
      {more > 0 && (
        <li className="py-1.5">
          <button className="quiet text-[13px]" onClick={() => setAll(true)}>
            And {count(more, 'more', 'more')}
          </button>
        </li>
      )}
    </ul>
  );
}

function PutOff({ words, matter, onPress }: { words: string; matter: Matter; onPress: () => void }) {
  return (
    <button
      className="quiet"
      aria-label={`${words === 'mark as done' ? 'Mark as done' : `Snooze until ${words.replace(/^until /, '')}`}: ${matter.words}`}
      onClick={onPress}
    >
      {words}
    </button>
  );
}

/** Puts a matter off until a day of one's own choosing. */
function PutOffUntil(props: { matter: Matter; zone: string; onChoose: (until: string) => void }) {
  const [day, setDay] = useState<string>();
  return (
    <Popover.Root>
      <Popover.Trigger className="quiet" aria-label={`Snooze until a day: ${props.matter.words}`}>
        a day…
      </Popover.Trigger>
      <PopoverPanel label="Snooze until a day" className="p-3">
        <form
          className="flex items-start gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (day) props.onChoose(morningOf(day));
          }}
        >
          <DateField label="Snooze until" zone={props.zone} of="day" side="future" value={day} onChange={setDay} />
          <button type="submit" className="button">
            Snooze
          </button>
        </form>
      </PopoverPanel>
    </Popover.Root>
  );
}

/** The morning of an instant's day, for whoever looks. */
const morning = (at: number): string => {
  const then = new Date(at);
  then.setHours(6, 0, 0, 0);
  return then.toISOString();
};
const morningOf = (day: string): string => morning(new Date(`${day}T12:00:00`).getTime());
const tomorrow = (now: number) => morning(now + DAY_MS);
const nextWeek = (now: number) => morning(now + ((8 - new Date(now).getDay()) % 7 || 7) * DAY_MS);

/** Who looks, and what was put away. */
function Foot(props: {
  name: string;
  onName: (name: string) => void;
  away: Snoozed;
  matters: Matter[];
  now: number;
  bring: () => void;
}) {
  const [typed, setTyped] = useState<string>();
  const navigate = useNavigate();
  const hidden = props.matters.filter((m) => isSnoozed(props.away, m.key, props.now)).length;
  return (
    <p className="text-ink2 mt-8 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-[13px]">
      <label className="flex items-baseline gap-2">
        What you put off or deal with is put away for
        <input
          className="field h-7! w-40"
          aria-label="Your name"
          value={typed ?? props.name}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={() => {
            if (typed?.trim()) props.onName(typed.trim());
            setTyped(undefined);
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
        alone, in this browser.
      </label>
      {hidden > 0 && (
        <button
          className="quiet"
          onClick={() => {
            props.bring();
            void navigate('/today');
          }}
        >
          Bring back {count(hidden, 'thing')}
        </button>
      )}
    </p>
  );
}
