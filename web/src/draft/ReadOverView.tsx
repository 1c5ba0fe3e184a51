import { useQuery, useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import {
  Refused,
  answer,
  refusalWords,
  api,
  type Draft,
  type Problem,
  type Reading,
  type Receipt,
  type Session,
} from '../api/client';
import { Trouble } from '../frame/Trouble';
import { publishedHere } from '../frame/useEvents';
import { useQuestion, writeQuestion } from '../frame/question';
import { instantOf, moment, wallClock } from '../text/dates';
import { count, figure, listed } from '../text/words';
import { Clashes } from './Clashes';
import { RipplePeople, type Part } from './RipplePeople';
import { useDrafting } from './draft';
import { rippleSentence } from './numbers';

type Move = Reading['moves'][number];

/** The draft as a page that one reads before it counts: what changes, for whom, when, and what is worth a second look. */
export function ReadOverView({ session }: { session?: Session }) {
  const { draft } = useDrafting();
  const zone = session?.organisation?.timeZone ?? 'UTC';
  const [receipt, setReceipt] = useState<Receipt>();
  useEffect(() => {
    document.title = 'Read over · Lean Ladder';
  }, []);
  const reading = useQuery<Reading, Refused>({
    queryKey: ['reading', draft?.id, draft?.version, draft?.change],
    queryFn: () => answer(api.GET('/api/v1/drafts/{id}/reading', { params: { path: { id: draft?.id ?? 0 } } })),
    enabled: draft !== undefined,
  });
  if (receipt) return <Published receipt={receipt} zone={zone} />;
  if (!draft || draft.items.length === 0)
    return (
      <div className="max-w-xl p-8">
        <h1 className="font-display text-xl font-semibold">There is nothing to read over</h1>
        <p className="mt-2">
          Edits are collected in a draft until they are published: change a policy, the ranking, a group or a unit, and
          read here what it would alter.
        </p>
      </div>
    );
  if (reading.isError) return <Trouble error={reading.error} onRetry={() => void reading.refetch()} />;
  if (!reading.data) return <p className="text-ink2 p-6">Working out what changes…</p>;
  return <Page draft={draft} reading={reading.data} zone={zone} onPublished={setReceipt} />;
}

function Page(props: { draft: Draft; reading: Reading; zone: string; onPublished: (receipt: Receipt) => void }) {
  const { draft, reading, zone } = props;
  const [part, setPart] = useState<Part>();
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  const none = reading.accounts === 0;
  return (
    <div className="flex h-full min-h-0 flex-col" role="region" aria-label="Read over">
      <div className="flex min-h-0 flex-1">
        <div
          className="min-w-0 flex-1 overflow-y-auto px-6 pt-4 pb-6"
          tabIndex={0}
          role="region"
          aria-label="The ripple"
        >
          <h1 ref={heading} tabIndex={-1} className="font-display text-[22px] font-bold outline-none">
            {none
              ? draft.stands
                ? 'No value changes for anybody now'
                : 'Without the edits that do not stand, no value changes'
              : `${count(reading.accounts, 'account')} ${reading.accounts === 1 ? 'changes' : 'change'}`}
          </h1>
          <p>
            {!none && (
              <>
                {rippleSentence(reading)}, of {figure(reading.everyone)} in all.{' '}
                <button className="quiet" onClick={() => setPart({ title: 'Everyone who changes' })}>
                  By name
                </button>
              </>
            )}
            {(reading.joining ?? 0) > 0 && ` ${count(reading.joining ?? 0, 'account')} new.`}
            {(reading.leaving ?? 0) > 0 && (
              <>
                {' '}
                <button className="quiet" onClick={() => setPart({ title: 'No outcomes any more', part: 'leaving' })}>
                  {count(reading.leaving ?? 0, 'account')} with no settings any more
                </button>
                .
              </>
            )}
            {reading.decidedElsewhere > 0 && (
              <span className="text-ink2">
                {' '}
                For {count(reading.decidedElsewhere, 'account')} the value stays and another statement decides, or the
                standing differs.
              </span>
            )}
          </p>
          <Clashes draft={draft} zone={zone} />
          <Cautions cautions={reading.cautions} />
          <MoveTable
            title="Lose"
            moves={reading.moves.filter((m) => m.effect === 'lose')}
            chosen={part}
            onChoose={setPart}
          />
          <MoveTable
            title="Gain"
            moves={reading.moves.filter((m) => m.effect === 'gain')}
            chosen={part}
            onChoose={setPart}
          />
          <MoveTable
            title="Change otherwise"
            moves={reading.moves.filter((m) => m.effect === 'other')}
            chosen={part}
            onChoose={setPart}
          />
          <Rest reading={reading} onChoose={setPart} />
          <h2 className="font-display mt-6 text-[16px] font-semibold">The edits</h2>
          <ol className="border-line mt-1 border-t">
            {draft.items.map((item) => (
              <li key={item.index} className="border-line border-b py-1">
                {item.words || 'An edit that cannot be carried out any more'}
              </li>
            ))}
          </ol>
        </div>
        {part && <RipplePeople draft={draft} part={part} onClose={() => setPart(undefined)} />}
      </div>
      <PublishBar draft={draft} zone={zone} settling={reading.settling} onPublished={props.onPublished} />
    </div>
  );
}

function Cautions({ cautions }: { cautions: Reading['cautions'] }) {
  if (cautions.length === 0) return null;
  return (
    <section aria-label="Worth a second look" className="border-draft bg-paper mt-3 border-l-4 px-4 py-2">
      <h2 className="font-semibold">Worth a second look</h2>
      <ul>
        {cautions.map((c) => (
          <li key={c.what + c.title} className="mt-0.5">
            <strong className="font-semibold">{c.what === 'oneself' ? 'Yourself' : c.title}</strong>
            {c.what === 'loosened' && ` is loosened for ${figure(c.accounts)}`}
            {c.what === 'locked' && ' is locked or unlocked'}: {c.words}
          </li>
        ))}
      </ul>
    </section>
  );
}

function MoveTable(props: { title: string; moves: Move[]; chosen?: Part; onChoose: (part: Part) => void }) {
  if (props.moves.length === 0) return null;
  return (
    <section aria-label={props.title} className="mt-5">
      <table className="w-full max-w-[980px] table-fixed">
        <colgroup>
          <col className="w-[30%]" />
          <col className="w-[15%]" />
          <col className="w-[15%]" />
          <col />
          <col className="w-[84px]" />
        </colgroup>
        <thead className="text-ink2 text-left text-[13px]">
          <tr>
            <th className="font-display text-ink py-1 text-[16px] font-semibold">{props.title}</th>
            <th className="font-normal">From</th>
            <th className="font-normal">To</th>
            <th className="font-normal">Where</th>
            <th className="text-right font-normal">Accounts</th>
          </tr>
        </thead>
        <tbody>
          {props.moves.map((move) => {
            const part = { title: move.title, setting: move.setting, from: move.from, to: move.to };
            const chosen = JSON.stringify(part) === JSON.stringify(props.chosen);
            return (
              <tr
                key={`${move.setting} ${move.from} ${move.to}`}
                className={clsx('border-line border-t align-baseline', chosen && 'bg-well')}
              >
                <td className="py-1 pr-3 font-semibold">{move.title}</td>
                <td className="text-ink2 pr-3 break-words line-through decoration-1">{move.from}</td>
                <td className="pr-3 font-semibold break-words">{move.to}</td>
                <td className="text-ink2 truncate pr-3 text-[13px]" title={where(move)}>
                  {where(move)}
                </td>
                <td className="text-right">
                  <button
                    className="quiet"
                    aria-label={`${count(move.accounts, 'account')}: ${move.title} to ${move.to}, by name`}
                    onClick={() => props.onChoose(part)}
                  >
                    {figure(move.accounts)}
                  </button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

const where = (move: Move) => move.units.map((u) => `${u.name} ${figure(u.accounts)}`).join(', ');

function Rest({ reading, onChoose }: { reading: Reading; onChoose: (part: Part) => void }) {
  return (
    <div className="mt-5 max-w-[980px] space-y-4">
      {reading.blockedBy.length > 0 && (
        <section aria-label="What stays blocked">
          <h2 className="font-display text-[16px] font-semibold">What stays blocked</h2>
          <ul className="border-line mt-1 border-t">
            {reading.blockedBy.map((b) => (
              <li key={b.setting + b.decided + b.needs} className="border-line flex gap-3 border-b py-1">
                <span className="min-w-0 flex-1">
                  <strong className="font-semibold">{b.title}</strong> would be {b.decided}, but lacks: {b.needs}
                </span>
                <button
                  className="quiet"
                  onClick={() => onChoose({ title: `${b.title}, blocked`, setting: b.setting, part: 'blocked' })}
                >
                  {figure(b.accounts)}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {reading.seats.length > 0 && (
        <section aria-label="Seats">
          <h2 className="font-display text-[16px] font-semibold">Seats</h2>
          <ul>
            {reading.seats.map((s) => (
              <li key={s.plan}>
                <strong className="font-semibold">{s.plan}</strong>:{' '}
                {listed(
                  [
                    s.given > 0 && `${s.given} given`,
                    s.returned > 0 && `${s.returned} returned`,
                    s.waitingAfter !== s.waitingBefore && `${s.waitingAfter} waiting instead of ${s.waitingBefore}`,
                  ].filter((t): t is string => typeof t === 'string'),
                )}
                .
              </li>
            ))}
          </ul>
        </section>
      )}
      {reading.later.length > 0 && (
        <section aria-label="Later">
          <h2 className="font-display text-[16px] font-semibold">Later, by itself</h2>
          <ul>
            {reading.later.map((l) => (
              <li key={l.at}>
                <button className="quiet" onClick={() => onChoose({ title: `From ${l.when}`, at: l.at })}>
                  From {l.when}: {figure(l.more)} more
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {reading.workspaces.some((w) => w.accounts > 0) && (
        <section aria-label="In workspaces">
          <h2 className="font-display text-[16px] font-semibold">When working in a workspace</h2>
          <ul>
            {reading.workspaces
              .filter((w) => w.accounts > 0)
              .map((w) => (
                <li key={w.id}>
                  <button className="quiet" onClick={() => onChoose({ title: `In ${w.name}`, workspace: w.id })}>
                    {w.name}: {count(w.accounts, 'member')} {w.accounts === 1 ? 'changes' : 'change'}
                  </button>
                </li>
              ))}
          </ul>
        </section>
      )}
    </div>
  );
}

/** When it will have taken effect: "at once", "5 to 60 minutes". */
export function settlesWords(least: number, most: number): string {
  const span = (m: number) =>
    m >= 1440 && m % 1440 === 0
      ? count(m / 1440, 'day')
      : m >= 120 && m % 60 === 0
        ? count(m / 60, 'hour')
        : count(m, 'minute');
  if (most === 0) return 'at once';
  if (least === most || least === 0) return `within ${span(most)}`;
  const [low, unit] = span(least).split(' ');
  const high = span(most);
  // One unit of measure is told once: "5 to 60 minutes".
  return unit === high.split(' ')[1] ? `after ${low} to ${high}` : `after ${span(least)} to ${high}`;
}

const MUST: Record<string, string> = {
  refresh: 'people refresh the page',
  'sign-in': 'people sign in again',
  restart: 'people restart the app',
};

function PublishBar(props: {
  draft: Draft;
  zone: string;
  settling: Reading['settling'];
  onPublished: (receipt: Receipt) => void;
}) {
  const { draft, zone } = props;
  const drafting = useDrafting();
  const queries = useQueryClient();
  const [note, setNote] = useState(draft.note);
  const [later, setLater] = useState(false);
  const [wall, setWall] = useState(() => wallClock(new Date(Date.now() + 3_600_000).toISOString(), zone));
  const [sending, setSending] = useState(false);
  const [problem, setProblem] = useState<Problem>();
  const publish = async () => {
    setSending(true);
    setProblem(undefined);
    try {
      const at = later ? instantOf(wall, zone) : null;
      const told = await answer(
        api.POST('/api/v1/drafts/{id}/publish', {
          params: { path: { id: draft.id } },
          body: { version: draft.version, note, at },
        }),
      );
      if ('number' in told) {
        publishedHere.add(told.number);
        props.onPublished(told);
        drafting.done();
      } else {
        drafting.took(told);
        drafting.putAside();
        drafting.tell(
          `${told.name || 'The draft'} publishes itself on ${moment(told.due ?? '', zone)}. Until then it is among the drafts put aside; an edit stops it.`,
        );
      }
      await queries.invalidateQueries();
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      setProblem(error.problem);
      await queries.invalidateQueries({ queryKey: ['draft'] });
    } finally {
      setSending(false);
    }
  };
  return (
    <form
      className="border-line2 bg-paper border-t px-6 py-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void publish();
      }}
    >
      {props.settling.length > 0 && (
        <p className="text-ink2 mb-2 text-[13px]">
          {props.settling
            .map(
              (s) =>
                `${s.app}: in effect ${settlesWords(s.minMinutes, s.maxMinutes)}${s.then ? `, once ${MUST[s.then] ?? s.then}` : ''}`,
            )
            .join('. ')}
          .
        </p>
      )}
      {problem && (
        <p role="alert" className="text-shut mb-2">
          {refusalWords(problem)}
        </p>
      )}
      {draft.due && (
        <p className="mb-2">
          It publishes itself on {moment(draft.due, zone)}, unless it is edited.{' '}
          <button type="button" className="quiet" onClick={drafting.unschedule}>
            Do not
          </button>{' '}
          {draft.stuck && <span className="text-shut">It could not: {draft.stuck}</span>}
        </p>
      )}
      <div className="flex flex-wrap items-center gap-3">
        <input
          className="field min-w-48 flex-1"
          aria-label="Note"
          placeholder="Why, in a few words"
          maxLength={4000}
          value={note}
          onChange={(e) => setNote(e.target.value)}
        />
        <select
          className="field"
          aria-label="When to publish"
          value={later ? 'later' : 'now'}
          onChange={(e) => setLater(e.target.value === 'later')}
        >
          <option value="now">now</option>
          <option value="later">at an instant</option>
        </select>
        {later && (
          <input
            type="datetime-local"
            className="field"
            aria-label="Publish at"
            value={wall}
            onChange={(e) => setWall(e.target.value)}
          />
        )}
        <button
          className="bg-draft h-9 rounded-[3px] px-5 font-semibold text-white disabled:opacity-60 dark:text-black"
          disabled={sending || !draft.stands}
          title={draft.stands ? undefined : 'Choose for the edits that clash first'}
        >
          {sending ? 'Publishing…' : later ? 'Let it publish itself' : 'Publish'}
        </button>
      </div>
    </form>
  );
}

/** That it is published, plainly, with its number and a link. */
function Published({ receipt, zone }: { receipt: Receipt; zone: string }) {
  const [question] = useQuestion();
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => heading.current?.focus(), []);
  return (
    <div className="px-8 py-8" role="region" aria-label="Receipt">
      <h1 ref={heading} tabIndex={-1} className="font-display text-[22px] font-bold outline-none">
        Change {receipt.number} is published
      </h1>
      <p className="mt-1">
        {moment(receipt.at, zone)}, by {receipt.author}.
      </p>
      {receipt.note && <p className="text-ink2 mt-1">“{receipt.note}”</p>}
      <div className="mt-4 flex gap-2">
        {question.who && (
          <Link className="button" to={`/ladder${writeQuestion({ ...question, when: undefined })}`}>
            See the answer on the ladder
          </Link>
        )}
        <Link className="button" to={`/logbook/${receipt.number}${writeQuestion(question)}`}>
          Open it in the logbook
        </Link>
      </div>
    </div>
  );
}
